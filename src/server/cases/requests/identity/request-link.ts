import { z } from 'zod';
import type { Context } from '../../../context.ts';
import { isToken, newToken, tokenHash } from '../../mailed-token.ts';
import { Instant, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';

/** What a link without an account opens. */
export type LinkUse = 'identity' | 'package';

/** The last step of an address that opens something of a request until a day; kept as a hash alone. Older ones of the same use open nothing any more. */
export async function makeLink(tx: Queries, request: number, what: LinkUse, until: Date): Promise<string> {
  const token = newToken();
  await tx.run('DELETE FROM request_link WHERE request_id = ? AND what = ?', [request, what]);
  await tx.run('INSERT INTO request_link (token_hash, request_id, what, until_on) VALUES (?)', [
    [tokenHash(token), request, what, toDatetime(until)],
  ]);
  return token;
}

/** The request of a link that still opens; `undefined` for one that is none, over, used, or was tried too often. */
export async function openLink(
  store: Queries,
  { now }: Pick<Context, 'now'>,
  what: LinkUse,
  token: string,
  lock = false,
): Promise<{ readonly request: number; readonly until: string } | undefined> {
  if (!isToken(token)) return undefined;
  const row = await store.one(
    z.object({ request_id: z.number(), until_on: Instant, used_at: Instant.nullable(), tries: z.number() }),
    `SELECT request_id, until_on, used_at, tries FROM request_link WHERE token_hash = ? AND what = ?${lock ? ' FOR UPDATE' : ''}`,
    [tokenHash(token), what],
  );
  if (!row || row.until_on < now().toISOString() || row.tries >= MOST_TRIES) return undefined;
  if (what === 'identity' && row.used_at !== null) return undefined;
  return { request: row.request_id, until: row.until_on };
}

const MOST_TRIES = 20;

/** It was used; of one that opens once, for the last time. */
export async function useLink(tx: Queries, { now }: Pick<Context, 'now'>, token: string): Promise<void> {
  await tx.run(
    'UPDATE request_link SET used_at = COALESCE(used_at, ?), tries = tries + 1 WHERE token_hash = ?',
    [toDatetime(now()), tokenHash(token)],
  );
}

/** Links of a request open nothing any more. */
export async function endLinks(tx: Queries, request: number, what?: LinkUse): Promise<void> {
  await tx.run(`DELETE FROM request_link WHERE request_id = ?${what ? ' AND what = ?' : ''}`, [
    request,
    ...(what ? [what] : []),
  ]);
}
