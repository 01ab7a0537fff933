import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';
import { record } from '../ledger.ts';
import { BOARD } from './boards.ts';

/** No link to a board lasts longer. */
export const LONGEST_DAYS = 366;
const DAY_MS = 86_400_000;

function digest(token: string): Buffer {
  return createHash('sha256').update(token).digest();
}

export interface NewLink {
  readonly board: number;
  /** Whom it is for. */
  readonly words: string;
  readonly days: number;
}

/** A new address of a board; its token is told this once. */
export async function addLink(
  ctx: Context,
  by: number,
  { board, words, days }: NewLink,
): Promise<{ readonly id: number; readonly token: string; readonly endsAt: string }> {
  const token = randomBytes(24).toString('base64url');
  const endsAt = new Date(ctx.now().getTime() + days * DAY_MS);
  const id = await ctx.store.transaction(async (tx) => {
    const { name } = await BOARD.read(tx, board);
    const link = await tx.run(
      'INSERT INTO board_link (board_id, token_hash, words, made_by, made_at, ends_at) VALUES (?, ?, ?, ?, ?, ?)',
      [board, digest(token), words, by, toDatetime(ctx.now()), toDatetime(endsAt)],
    );
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'board.share', object: 'board', objectId: board },
      detail: { name, link: link.id, until: endsAt.toISOString().slice(0, 10) },
    });
    return link.id;
  });
  return { id, token, endsAt: endsAt.toISOString() };
}

/** Nobody sees the board by it any more. Throws a RefusedError (404). */
export async function endLink(ctx: Context, by: number, board: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE board_link SET ended_at = ? WHERE id = ? AND board_id = ? AND ended_at IS NULL',
      [toDatetime(ctx.now()), id, board],
    );
    if (changed === 0) throw notFound('link');
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'board.share.end', object: 'board', objectId: board, detail: { link: id } },
    });
  });
}

const Row = z.object({
  id: Count,
  words: z.string(),
  made_by: z.string(),
  made_at: Instant,
  ends_at: Instant,
  opened: Count,
  opened_at: Instant.nullable(),
});

/** The links of a board that count, the newest first. */
export async function linksOf(ctx: Context, board: number) {
  const rows = await ctx.store.all(
    Row,
    `SELECT l.id, l.words, a.name AS made_by, l.made_at, l.ends_at, l.opened, l.opened_at
     FROM board_link l JOIN account a ON a.id = l.made_by
     WHERE l.board_id = ? AND l.ended_at IS NULL AND l.ends_at > ? ORDER BY l.id DESC`,
    [board, toDatetime(ctx.now())],
  );
  return rows.map(({ made_by, made_at, ends_at, opened_at, ...rest }) => ({
    ...rest,
    ...{ madeBy: made_by, madeAt: made_at, endsAt: ends_at, openedAt: opened_at },
  }));
}

/** Which board an address shows, and for whom it is read; `undefined` for none that counts. */
export async function openLink(
  ctx: Context,
  token: string,
): Promise<{ readonly board: number; readonly madeBy: number; readonly endsAt: string } | undefined> {
  if (!/^[\w-]{32}$/.test(token)) return undefined;
  const now = toDatetime(ctx.now());
  const row = await ctx.store.one(
    z.object({ id: Count, board_id: Count, made_by: Count, ends_at: Instant }),
    `SELECT l.id, l.board_id, l.made_by, l.ends_at FROM board_link l
     WHERE l.token_hash = ? AND l.ended_at IS NULL AND l.ends_at > ?`,
    [digest(token), now],
  );
  if (!row) return undefined;
  await ctx.store.run('UPDATE board_link SET opened = opened + 1, opened_at = ? WHERE id = ?', [now, row.id]);
  return { board: row.board_id, madeBy: row.made_by, endsAt: row.ends_at };
}
