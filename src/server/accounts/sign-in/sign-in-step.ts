import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { openText, sealText } from '../../secret.ts';
import { toDatetime } from '../../store/columns.ts';

export const STEP_COOKIE = 'yare_step';
export const STEP_MS = 10 * 60_000;
/** So often a step may be answered wrongly. */
const MOST_TRIES = 5;

const hashOf = (token: string) => createHash('sha256').update(token).digest();

/** Where a signing in has got to. */
export interface Step<T> {
  readonly account: number | undefined;
  readonly content: T;
}

/**
 * Keeps, sealed and for some minutes, what the next step of a signing in is checked against; what the browser shows for it.
 * With `token` in place of what that showed before.
 */
export async function keepStep(
  ctx: Context,
  kind: string,
  account: number | undefined,
  content: unknown,
  token = randomBytes(32).toString('base64url'),
): Promise<string> {
  const expires = toDatetime(new Date(ctx.now().getTime() + STEP_MS));
  await ctx.store.run('REPLACE INTO sign_in_step (id, kind, account_id, content, expires_at) VALUES (?)', [
    [
      ...[hashOf(token), kind, account ?? null],
      ...[sealText(ctx.settings.SECRET_KEY, JSON.stringify(content)), expires],
    ],
  ]);
  return token;
}

const Row = z.object({ account_id: z.number().nullable(), content: z.string() });

/** Counts one try. Throws a RefusedError (401) where there is no such step, it took too long, or was tried too often. */
export async function tryStep<T extends z.ZodType>(
  ctx: Context,
  kind: string,
  token: string | undefined,
  schema: T,
): Promise<Step<z.infer<T>>> {
  const over = new RefusedError('That took too long, or was tried too often. Sign in again.', [], 401);
  if (token === undefined || token.length > 100) throw over;
  const { changed } = await ctx.store.run(
    'UPDATE sign_in_step SET tries = tries + 1 WHERE id = ? AND kind = ? AND tries < ? AND expires_at > ?',
    [hashOf(token), kind, MOST_TRIES, toDatetime(ctx.now())],
  );
  if (changed === 0) throw over;
  const row = await ctx.store.one(Row, 'SELECT account_id, content FROM sign_in_step WHERE id = ?', [
    hashOf(token),
  ]);
  if (!row) throw over;
  const content: unknown = JSON.parse(openText(ctx.settings.SECRET_KEY, row.content));
  return { account: row.account_id ?? undefined, content: schema.parse(content) };
}

/** Ends a step for good, so that nobody takes it twice. Throws a RefusedError (401) where somebody just did. */
export async function endStep(ctx: Context, token: string): Promise<void> {
  const { changed } = await ctx.store.run('DELETE FROM sign_in_step WHERE id = ?', [hashOf(token)]);
  if (changed === 0) throw new RefusedError('That was done already. Sign in again.', [], 401);
}
