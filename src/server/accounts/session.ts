import { createHash, createHmac, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { truncateAddress } from '../../core/address.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Bytes, Count, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { AccountRow, findByPassword } from './account.ts';

export const SESSION_COOKIE = 'yare_session';
/** A session ends after this long unused, and after ABSOLUTE whatever happens. */
const IDLE_MS = 8 * 3600_000;
const ABSOLUTE_MS = 7 * 24 * 3600_000;
/** Writing `seen_at` at most this often keeps reads cheap. */
const SEEN_EVERY_MS = 60_000;

const WINDOW_MS = 15 * 60_000;
const MOST_BY_ACCOUNT = 8;
const MOST_BY_ADDRESS = 40;

export interface SignIn {
  readonly email: string;
  readonly password: string;
  readonly address: string;
  readonly userAgent: string;
}

/**
 * Starts a session and returns its cookie value. Throws a RefusedError (401) for a wrong e-mail or password, without
 * saying which, and (429) when either the account or the address has failed too often within 15 minutes.
 */
export async function signIn(ctx: Context, input: SignIn): Promise<{ token: string; account: Account }> {
  const now = ctx.now();
  const byAccount = subject(ctx, `account ${input.email.trim().toLowerCase()}`);
  const byAddress = subject(ctx, `address ${truncateAddress(input.address) ?? 'unknown'}`);
  await refuseTooMany(ctx.store, byAccount, MOST_BY_ACCOUNT, now);
  await refuseTooMany(ctx.store, byAddress, MOST_BY_ADDRESS, now);
  const account = await findByPassword(ctx.store, input.email, input.password);
  if (!account) {
    await ctx.store.run('INSERT INTO sign_in_failure (subject, at) VALUES (?, ?), (?, ?)', [
      byAccount,
      toDatetime(now),
      byAddress,
      toDatetime(now),
    ]);
    throw new RefusedError(
      'That e-mail and password do not go together.',
      [{ field: 'password', message: 'Check both, then try again.' }],
      401,
    );
  }
  const token = randomBytes(32).toString('base64url');
  await ctx.store.transaction(async (tx) => {
    await tx.run(
      'INSERT INTO session (id, account_id, created_at, seen_at, expires_at, browser, address) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        idOf(token),
        account.id,
        toDatetime(now),
        toDatetime(now),
        toDatetime(new Date(now.getTime() + ABSOLUTE_MS)),
        browserName(input.userAgent),
        truncateAddress(input.address) ?? '',
      ],
    );
    await tx.run('DELETE FROM sign_in_failure WHERE subject = ?', [byAccount]);
    await record(tx, now, {
      actor: account.id,
      action: 'session.start',
      object: 'account',
      objectId: account.id,
      detail: {},
    });
  });
  return { token, account };
}

/** The account behind a cookie; `undefined` when the session has ended. */
export async function accountOf(ctx: Context, token: string | undefined): Promise<Account | undefined> {
  if (!token || token.length > 100) return undefined;
  const now = ctx.now();
  const row = await ctx.store.one(
    AccountRow.extend({ seen_at: Instant }),
    `SELECT a.id, a.email, a.name, a.title, a.role, s.seen_at FROM session s JOIN account a ON a.id = s.account_id
     WHERE s.id = ? AND s.expires_at > ? AND s.seen_at > ?`,
    [idOf(token), toDatetime(now), toDatetime(new Date(now.getTime() - IDLE_MS))],
  );
  if (!row) return undefined;
  if (now.getTime() - Date.parse(row.seen_at) > SEEN_EVERY_MS)
    await ctx.store.run('UPDATE session SET seen_at = ? WHERE id = ?', [toDatetime(now), idOf(token)]);
  const { seen_at: _seen, ...account } = row;
  return account;
}

const Listed = z
  .object({ id: Bytes, created_at: Instant, seen_at: Instant, browser: z.string(), address: z.string() })
  .transform((s) => ({
    id: s.id.toString('hex'),
    startedAt: s.created_at,
    seenAt: s.seen_at,
    browser: s.browser,
    address: s.address,
  }));
export type ListedSession = z.infer<typeof Listed>;

export async function listSessions(ctx: Context, account: Account): Promise<ListedSession[]> {
  return ctx.store.all(
    Listed,
    'SELECT id, created_at, seen_at, browser, address FROM session WHERE account_id = ? AND expires_at > ? AND seen_at > ? ORDER BY seen_at DESC',
    [account.id, toDatetime(ctx.now()), toDatetime(new Date(ctx.now().getTime() - IDLE_MS))],
  );
}

export function sessionId(token: string): string {
  return idOf(token).toString('hex');
}

/** The account a session belongs to, for `authorize`. */
export async function sessionOwner(ctx: Context, id: string): Promise<number | undefined> {
  const row = await ctx.store.one(
    z.object({ account_id: z.number() }),
    'SELECT account_id FROM session WHERE id = ?',
    [Buffer.from(id, 'hex')],
  );
  return row?.account_id;
}

export async function endSession(ctx: Context, account: Account, id: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM session WHERE id = ? AND account_id = ?', [
      Buffer.from(id, 'hex'),
      account.id,
    ]);
    if (changed === 0) throw new RefusedError('That session has already ended.', [], 404);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'session.end',
      object: 'account',
      objectId: account.id,
      detail: {},
    });
  });
}

/** Forgets what has run out; called by the worker now and then. */
export async function forgetOldSessions(ctx: Context): Promise<void> {
  await ctx.store.run('DELETE FROM session WHERE expires_at < ?', [toDatetime(ctx.now())]);
  await ctx.store.run('DELETE FROM sign_in_failure WHERE at < ?', [
    toDatetime(new Date(ctx.now().getTime() - WINDOW_MS)),
  ]);
}

async function refuseTooMany(store: Queries, who: Buffer, most: number, now: Date): Promise<void> {
  const since = new Date(now.getTime() - WINDOW_MS);
  const row = await store.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM sign_in_failure WHERE subject = ? AND at > ?',
    [who, toDatetime(since)],
  );
  if ((row?.n ?? 0) >= most)
    throw new RefusedError('Too many failed sign-ins. Wait 15 minutes, then try again.', [], 429);
}

function subject(ctx: Context, text: string): Buffer {
  return createHmac('sha256', Buffer.from(ctx.settings.SECRET_KEY, 'hex')).update(text).digest();
}

function idOf(token: string): Buffer {
  return createHash('sha256').update(token).digest();
}

/** Enough to tell one's own devices apart, and no more. */
function browserName(userAgent: string): string {
  const browser = /Firefox|Edg|OPR|Chrome|Safari|curl/.exec(userAgent)?.[0] ?? 'Unknown browser';
  const system = /Windows|Android|iPhone|iPad|Mac OS X|Linux/.exec(userAgent)?.[0];
  const names: Record<string, string> = { Edg: 'Edge', OPR: 'Opera', 'Mac OS X': 'macOS' };
  return [names[browser] ?? browser, system ? (names[system] ?? system) : ''].filter(Boolean).join(' on ');
}
