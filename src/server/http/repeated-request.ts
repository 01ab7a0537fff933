import { createHash } from 'node:crypto';
import { z } from 'zod';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { openText, sealText } from '../secret.ts';
import { Bytes, Count, Instant, toDatetime } from '../store/columns.ts';
import { isDuplicate } from '../store/pool.ts';

const KEEP_MS = 24 * 3_600_000;
const MOST_KEPT = 1_000_000;

const sha256 = (...parts: readonly (string | Uint8Array)[]) => {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  return hash.digest();
};

/** What makes two requests the same. */
export interface Repeatable {
  readonly token: number;
  /** That the program gave it, 1 to 255 characters. */
  readonly key: string;
  readonly method: string;
  readonly path: string;
  readonly body: Uint8Array;
}

/** The token, and the key as it is kept. */
type Where = readonly [number, Buffer];

const Row = z.object({
  digest: Bytes,
  begun_at: Instant,
  status: Count.nullable(),
  answer: Bytes.nullable(),
});

/**
 * Answers a request that came before with what was answered then, and works on any other once. What failed on our side is
 * worked on again. Throws a RefusedError (422) where the key was another request's, and (409) where the one before is under
 * way, its end is not known, or its answer was too large to keep. After the IETF draft of the Idempotency-Key header field.
 */
export async function onceOnly(
  ctx: Context,
  asked: Repeatable,
  work: () => Promise<Response>,
): Promise<Response> {
  if (!/^[\x21-\x7e]{1,255}$/.test(asked.key))
    throw new RefusedError('Give a key of 1 to 255 characters, without spaces.', [
      { field: 'idempotency-key', message: 'A new UUID for each request will do.' },
    ]);
  const where: Where = [asked.token, sha256(asked.key)];
  const digest = sha256(`${asked.method} ${asked.path}\n`, asked.body);
  if (!(await begin(ctx, where, digest))) {
    const before = await ctx.store.one(
      Row,
      'SELECT digest, begun_at, status, answer FROM answered_request WHERE token_id = ? AND request_key = ?',
      where,
    );
    // It failed in this moment, and may be tried again.
    if (!before) throw new RefusedError('The request before is just ending. Send it again.', [], 409);
    return again(ctx, before, digest);
  }
  let answer: Response;
  try {
    answer = await work();
  } catch (error) {
    await forget(ctx, where);
    throw error;
  }
  if (answer.status >= 500 || answer.status === 429) await forget(ctx, where);
  else await keep(ctx, where, answer);
  return answer;
}

/** `false` where one of this key was begun before. */
async function begin(ctx: Context, where: Where, digest: Buffer): Promise<boolean> {
  try {
    await ctx.store.run(
      'INSERT INTO answered_request (token_id, request_key, digest, begun_at) VALUES (?, ?, ?, ?)',
      [...where, digest, toDatetime(ctx.now())],
    );
    return true;
  } catch (error) {
    if (isDuplicate(error)) return false;
    throw error;
  }
}

async function keep(ctx: Context, where: Where, answer: Response): Promise<void> {
  const isJson = answer.headers.get('content-type')?.startsWith('application/json') ?? false;
  const text = isJson ? await answer.clone().text() : undefined;
  const kept =
    text !== undefined && text.length <= MOST_KEPT
      ? Buffer.from(sealText(ctx.settings.SECRET_KEY, text))
      : null;
  await ctx.store.run(
    'UPDATE answered_request SET status = ?, answer = ? WHERE token_id = ? AND request_key = ?',
    [answer.status, kept, ...where],
  );
}

async function forget({ store }: Context, where: Where): Promise<void> {
  await store.run('DELETE FROM answered_request WHERE token_id = ? AND request_key = ?', where);
}

function again({ settings }: Context, before: z.infer<typeof Row>, digest: Buffer): Response {
  if (!before.digest.equals(digest))
    throw new RefusedError(
      'This key was given to another request.',
      [{ field: 'idempotency-key', message: 'Take a new one for each request.' }],
      422,
    );
  if (before.status === null)
    throw new RefusedError(
      `This request was begun at ${before.begun_at}, and how it ended is not known yet. Wait a moment; where that does not help, look whether it was done before you send it with another key.`,
      [],
      409,
    );
  if (before.answer === null)
    throw new RefusedError('It was done; its answer was too large to keep.', [], 409, {
      status: before.status,
    });
  return new Response(openText(settings.SECRET_KEY, before.answer.toString()), {
    status: before.status,
    headers: {
      'content-type': 'application/json',
      'cache-control': 'no-store',
      'idempotency-replayed': 'true',
    },
  });
}

/** After a day a key may be used for something else. */
export async function forgetAnswers({ store, now }: Context): Promise<void> {
  await store.run('DELETE FROM answered_request WHERE begun_at < ? LIMIT 5000', [
    toDatetime(new Date(now().getTime() - KEEP_MS)),
  ]);
}
