import { createHmac } from 'node:crypto';
import { z } from 'zod';
import { growingWait, type Growth } from '../../../core/accounts/growing-wait.ts';
import { truncateAddress } from '../../../core/address.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';

/** Attempts that are older count no more. */
export const WINDOW_MS = 15 * 60_000;

const BY_DEVICE: Growth = { free: 10, most: 900 };
const BY_NETWORK_AND_ACCOUNT: Growth = { free: 5, most: 900 };
const BY_NETWORK: Growth = { free: 40, most: 900 };
/** Of many strangers together. Short, so that nobody is locked out for long who comes with a new device. */
const BY_ACCOUNT: Growth = { free: 50, most: 60 };

export interface Attempt {
  /** `undefined` where no account has this address. */
  readonly accountId: number | undefined;
  readonly email: string;
  readonly address: string;
  /** Hash of the cookie of a browser in which this account has signed in before. */
  readonly device: Buffer | undefined;
  /** What is tried, where it is no password: counted by itself. */
  readonly what?: 'factor';
}

interface Subject {
  readonly id: Buffer;
  readonly growth: Growth;
}

export interface Begun {
  /** The password was right. */
  succeeded(): Promise<void>;
}

/**
 * Begins an attempt, counted as failed until it succeeds, so that many at once cannot pass as one. Failures from strange
 * devices never hold back a known one. Throws a RefusedError (429) that tells the seconds to wait.
 */
export async function beginAttempt(ctx: Context, attempt: Attempt): Promise<Begun> {
  const now = ctx.now();
  const subjects = subjectsOf(ctx, attempt);
  const ids: number[] = [];
  for (const { id } of subjects)
    ids.push(
      (await ctx.store.run('INSERT INTO sign_in_failure (subject, at) VALUES (?, ?)', [id, toDatetime(now)]))
        .id,
    );
  const take = () => ctx.store.run('DELETE FROM sign_in_failure WHERE id IN (?)', [ids]);
  const waits = await Promise.all(subjects.map((s, i) => secondsToWait(ctx, s, ids[i] as number, now)));
  const wait = Math.ceil(Math.max(...waits));
  if (wait > 0) {
    await take();
    throw new RefusedError(
      `Too many failed sign-ins. Wait ${waitWords(wait)}, then try again.`,
      [{ field: 'password', message: 'A browser in which you have signed in before does not have to wait.' }],
      429,
      { retryAfter: wait },
    );
  }
  return {
    succeeded: async () => {
      await take();
      // What this person mistyped before is forgiven; what strangers try elsewhere is not.
      const own = subjects[0]?.id;
      if (own) await ctx.store.run('DELETE FROM sign_in_failure WHERE subject = ?', [own]);
    },
  };
}

function subjectsOf(ctx: Context, { accountId, email, address, device, what }: Attempt): readonly Subject[] {
  const subject = (text: string, growth: Growth): Subject => ({
    id: createHmac('sha256', Buffer.from(ctx.settings.SECRET_KEY, 'hex'))
      .update(what === undefined ? text : `${what} ${text}`)
      .digest(),
    growth,
  });
  if (accountId !== undefined && device)
    return [subject(`device ${accountId} ${device.toString('hex')}`, BY_DEVICE)];
  const network = truncateAddress(address) ?? 'unknown';
  const who = accountId === undefined ? `nobody ${email}` : `account ${accountId}`;
  return [
    subject(`${who} from ${network}`, BY_NETWORK_AND_ACCOUNT),
    subject(`network ${network}`, BY_NETWORK),
    subject(who, BY_ACCOUNT),
  ];
}

async function secondsToWait(ctx: Context, { id, growth }: Subject, own: number, now: Date): Promise<number> {
  const since = new Date(now.getTime() - WINDOW_MS);
  const row = await ctx.store.one(
    z.object({ n: Count, last: Instant.nullable() }),
    'SELECT COUNT(*) AS n, MAX(at) AS last FROM sign_in_failure WHERE subject = ? AND at > ? AND id <> ?',
    [id, toDatetime(since), own],
  );
  if (!row?.last) return 0;
  return growingWait(row.n, growth) - (now.getTime() - Date.parse(row.last)) / 1000;
}

function waitWords(seconds: number): string {
  if (seconds === 1) return 'a second';
  if (seconds < 90) return `${seconds} seconds`;
  return `${Math.ceil(seconds / 60)} minutes`;
}
