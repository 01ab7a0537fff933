import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import { isSolved, WORK_BITS, type WorkTask } from '../../../../core/cases/requests/form/work-proof.ts';
import {
  FOR_WHOM,
  identityNeed,
  NewRequest,
  REQUEST_KINDS,
  requestNumber,
} from '../../../../core/cases/requests/request.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { fieldErrors } from '../../../http/endpoint.ts';
import { truncateAddress } from '../../../../core/address.ts';
import { sealBytes } from '../../../secret.ts';
import { Count, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { askWho } from '../identity/ask-who.ts';
import { showRequest } from '../request-facts.ts';
import { findRequest, keyedHash, personHash } from '../request-row.ts';
import { takeRequest } from '../take-in.ts';

/** A form that was shown stays good so long. */
const FORM_MS = 6 * 3_600_000;
/** Nobody fills one in faster. */
const LEAST_MS = 2000;
/** From one network in an hour: of browsers that did the work, and of those that cannot. */
const MOST_WORKED = 30;
const MOST_PLAIN = 5;
/** Letters that one address gets of its forms in a day. */
const MOST_LETTERS = 3;

/** What a form carries that is shown now. */
export function newForm(ctx: Pick<Context, 'settings' | 'now'>): WorkTask {
  const seed = `${ctx.now().getTime()}.${randomBytes(12).toString('base64url')}`;
  return { seed: `${seed}.${signed(ctx, seed)}`, bits: WORK_BITS };
}

function signed({ settings }: Pick<Context, 'settings'>, seed: string): string {
  return createHmac('sha256', Buffer.from(settings.SECRET_KEY, 'hex'))
    .update(`form ${seed}`)
    .digest('base64url')
    .slice(0, 27);
}

/** When the form of a seed was shown; `undefined` for a seed that was not made here. */
function shownAt(ctx: Pick<Context, 'settings'>, seed: string): number | undefined {
  const [, body = '', sign = ''] = /^(\d{13}\.[\w-]{16})\.([\w-]{27})$/.exec(seed) ?? [];
  if (body === '') return undefined;
  return timingSafeEqual(Buffer.from(signed(ctx, body)), Buffer.from(sign))
    ? Number(body.slice(0, 13))
    : undefined;
}

/**
 * Whether the work of a form was done, and whether a robot seems to send it: by what nobody sees, or faster than anybody can.
 * Throws a RefusedError (400) for one that was not shown here, or long ago.
 */
export function judgeForm(
  ctx: Pick<Context, 'settings' | 'now'>,
  sent: { readonly seed: string; readonly work: string; readonly homepage: string },
): { readonly worked: boolean; readonly robot: boolean } {
  const shown = shownAt(ctx, sent.seed);
  const age = shown === undefined ? -1 : ctx.now().getTime() - shown;
  if (shown === undefined || age > FORM_MS) throw new RefusedError('', [{ field: 'seed', message: '' }]);
  return {
    worked: isSolved({ seed: sent.seed, bits: WORK_BITS }, sent.work),
    robot: sent.homepage !== '' || age < LEAST_MS,
  };
}

/** One more form from a network. Throws a RefusedError (429) where too many came within the hour. */
export async function countForm(tx: Queries, ctx: Context, address: string, worked: boolean): Promise<void> {
  const network = keyedHash(ctx, 'form network', truncateAddress(address) ?? 'unknown');
  const hour = new Date(ctx.now().getTime() - 3_600_000);
  await tx.run('DELETE FROM request_form WHERE at < ? LIMIT 1000', [toDatetime(hour)]);
  const counted = await tx.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM request_form WHERE network = ? AND at >= ?',
    [network, toDatetime(hour)],
  );
  if ((counted?.n ?? 0) >= (worked ? MOST_WORKED : MOST_PLAIN)) throw new RefusedError('', [], 429);
  await tx.run('INSERT INTO request_form (network, at) VALUES (?, ?)', [network, toDatetime(ctx.now())]);
}

const Text = (most: number) => z.string().trim().max(most).default('');
const Sent = z.object({
  seed: z.string().max(80),
  work: Text(12),
  /** Left empty by people, who do not see it. */
  homepage: Text(200),
  kind: z.enum(REQUEST_KINDS),
  whom: z.enum(FOR_WHOM).default('self'),
  region: z.string().max(6),
  language: z.string().max(12),
  name: z.string().trim().min(1, '').max(200),
  other: Text(200),
  email: z.email('').max(254),
  numbers: Text(200),
  words: Text(4000),
});

export interface SentForm {
  readonly fields: Readonly<Record<string, string>>;
  /** Proof that somebody may act for another. */
  readonly proof: { readonly name: string; readonly bytes: Uint8Array } | undefined;
}

export const MOST_PROOF = 5_000_000;

/**
 * Takes a request from the public form, and writes to the address it names to know who asks. One form is taken once, however
 * often it is sent. Throws a RefusedError: (400) with the fields that are wrong, (429) for too many from one network.
 */
export async function takeForm(
  ctx: Context,
  site: string,
  address: string,
  { fields, proof }: SentForm,
): Promise<{ readonly number: string }> {
  const read = Sent.safeParse(fields);
  if (!read.success) throw new RefusedError('', fieldErrors(read.error));
  const sent = read.data;
  const { worked, robot } = judgeForm(ctx, sent);
  // Whoever fills in what nobody sees, or faster than anybody can, is thanked, and nothing is taken.
  if (robot) return { number: '–' };
  if (sent.whom !== 'self' && sent.other === '')
    throw new RefusedError('', [{ field: 'other', message: '' }]);
  if (sent.whom === 'represented' && !proof) throw new RefusedError('', [{ field: 'proof', message: '' }]);
  if (proof && !isReadable(proof.bytes)) throw new RefusedError('', [{ field: 'proof', message: '' }]);
  const self = sent.whom === 'self';
  const parsed = NewRequest.safeParse({
    ...{
      kind: sent.kind,
      region: sent.region,
      language: sent.language,
      whom: sent.whom,
      words: sent.words,
      site,
    },
    asker: self ? undefined : { name: sent.name, email: sent.email },
    subject: {
      name: self ? sent.name : sent.other,
      emails: self ? [sent.email] : [],
      numbers: sent.numbers
        .split(/[,;\s]+/)
        .filter((n) => n.length >= 4)
        .slice(0, 10),
    },
  });
  if (!parsed.success) throw new RefusedError('', fieldErrors(parsed.error));
  const request = parsed.data;
  const sentKey = `form ${sent.seed}`.slice(0, 80);
  return ctx.store.transaction(async (tx) => {
    const admitted = await admit(tx, ctx, address, worked, sentKey, request);
    if ('before' in admitted) return { number: requestNumber(admitted.before) };
    const taken = await takeRequest(tx, ctx, request, {
      ...{ way: 'form', by: 'visitor', sentKey, confirm: admitted.write },
    });
    if (proof)
      await tx.run('INSERT INTO request_proof (request_id, at, name, size, content) VALUES (?)', [
        [
          taken.id,
          toDatetime(ctx.now()),
          proof.name.slice(0, 200),
          proof.bytes.length,
          sealBytes(ctx.settings.SECRET_KEY, proof.bytes),
        ],
      ]);
    if (identityNeed(request.kind) !== 'not needed' && admitted.write && ctx.settings.SMTP_URL)
      await askWho(tx, ctx, await findRequest(tx, taken.id, true), null);
    await showRequest(tx, ctx, taken.id);
    return { number: requestNumber(taken.id) };
  });
}

/** The request that a form became before; else whether the address may be written to. Throws a RefusedError (429). */
async function admit(
  tx: Queries,
  ctx: Context,
  address: string,
  worked: boolean,
  sentKey: string,
  request: NewRequest,
): Promise<{ readonly before: number } | { readonly write: boolean }> {
  const before = await tx.one(
    z.object({ id: z.number() }),
    'SELECT id FROM subject_request WHERE sent_key = ?',
    [sentKey],
  );
  if (before) return { before: before.id };
  await countForm(tx, ctx, address, worked);
  const letters = await tx.one(
    z.object({ n: Count }),
    "SELECT COUNT(*) AS n FROM subject_request WHERE person_hash = ? AND way = 'form' AND received_at >= ?",
    [personHash(ctx, request), toDatetime(new Date(ctx.now().getTime() - 86_400_000))],
  );
  return { write: (letters?.n ?? 0) < MOST_LETTERS };
}

/** PDF, JPEG or PNG, by their first bytes. */
function isReadable(bytes: Uint8Array): boolean {
  const head = Buffer.from(bytes.subarray(0, 8)).toString('latin1');
  return (
    bytes.length <= MOST_PROOF &&
    (head.startsWith('%PDF-') || head.startsWith('\xff\xd8\xff') || head.startsWith('\x89PNG\r\n'))
  );
}
