import { z } from 'zod';
import { Board } from '../../../core/figures/board.ts';
import { may, type Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { record } from '../ledger.ts';
import { count } from '../../figures/count.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<Board> = { table: 'board', object: 'board', content: Board };

/** Figures that are looked at together. */
export const BOARD: PlainKind<Board> = {
  object: 'board',
  content: Board,
  vocabulary: () =>
    Promise.resolve({
      path: ([first]) =>
        first === 'name'
          ? 'The name'
          : first === 'about'
            ? 'What it is for'
            : first === 'compare'
              ? 'What it is compared with'
              : 'The figures',
      value: (value, [first, ...rest]) =>
        first === 'tiles' && rest.length === 0 && Array.isArray(value)
          ? `${value.length} of them`
          : undefined,
    }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

export function addBoard(tx: Queries, now: Date, by: number | null, content: Board): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
}

/** With its links. Throws a RefusedError (404); and (403) where it has some that count, and somebody may not end them. */
export async function removeBoard(tx: Queries, now: Date, by: Account, id: number): Promise<void> {
  const { name } = await BOARD.read(tx, id, true);
  const open = await count(
    tx,
    'SELECT COUNT(*) AS n FROM board_link WHERE board_id = ? AND ended_at IS NULL AND ends_at > ?',
    [id, toDatetime(now)],
  );
  if (open > 0 && !may(by, 'boards.share'))
    throw new RefusedError('Others see this board by an address, which your roles cannot end.', [], 403);
  await tx.run('DELETE FROM board WHERE id = ?', [id]);
  await record(tx, now, {
    actor: by.id,
    action: 'board.remove',
    object: 'board',
    objectId: id,
    detail: { name },
  });
}

const Row = z.object({ id: Count, content: JsonColumn(Board) });
export type StoredBoard = z.infer<typeof Row>;

/** A register shows no more. */
const MOST = 200;

export async function listBoards(store: Queries): Promise<readonly StoredBoard[]> {
  return store.all(Row, `SELECT id, content FROM board ORDER BY id LIMIT ${MOST}`);
}
