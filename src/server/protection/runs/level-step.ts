import { z } from 'zod';
import { BigId, Bytes, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { setByText } from '../../../core/protection/rules/verdict-words.ts';
import type { PresentLevel } from '../../../core/protection/rules/level-verdict.ts';
import { renameItem, touchBlocks } from '../../holdings/offers.ts';
import type { ListedItem } from '../../holdings/offers.ts';

export const STEP_STATES = ['begun', 'stamped', 'noted', 'refused', 'undone', 'left'] as const;
export type StepState = (typeof STEP_STATES)[number];

/** What a run did to an item, or is about to do. */
const Row = z.object({
  run_id: BigId,
  item_id: BigId.transform(Number),
  state: z.enum(STEP_STATES),
  level_before: z.string().nullable(),
  before_set_by: z.string().nullable(),
  level_after: z.string().nullable(),
  hash_before: Bytes.nullable(),
  hash_after: Bytes.nullable(),
  copy_id: BigId.nullable(),
  why: z.string(),
});
export type LevelStep = z.infer<typeof Row>;
export const STEP_COLUMNS = Object.keys(Row.shape)
  .map((c) => `s.${c}`)
  .join(', ');

export type NewStep = Omit<LevelStep, 'run_id'>;

export async function writeStep(tx: Queries, now: Date, run: string, step: NewStep): Promise<void> {
  await tx.run(
    `REPLACE INTO level_step (run_id, item_id, state, level_before, before_set_by, level_after, hash_before, hash_after, copy_id, why, at)
     VALUES (?)`,
    [
      [
        run,
        step.item_id,
        step.state,
        step.level_before,
        step.before_set_by,
        step.level_after,
        step.hash_before,
        step.hash_after,
        step.copy_id,
        step.why.slice(0, 400),
        toDatetime(now),
      ],
    ],
  );
}

/** Of a run and a source, in the order of their items. */
export async function stepsOf(
  store: Queries,
  run: string,
  source: string,
  states: readonly StepState[],
  after = 0,
  most = 1000,
): Promise<readonly LevelStep[]> {
  return store.all(
    Row,
    `SELECT ${STEP_COLUMNS} FROM level_step s JOIN item i ON i.id = s.item_id
     WHERE s.run_id = ? AND i.source_id = ? AND s.state IN (?) AND s.item_id > ? ORDER BY s.item_id LIMIT ?`,
    [run, source, states, after, most],
  );
}

/** The level of an item as it is from now on; none where `level` is undefined. */
export interface NewLevel {
  readonly item: number;
  readonly level: string | undefined;
  readonly by: PresentLevel['by'];
  readonly account?: number;
  readonly reason?: string;
  /** Why the document itself does not carry it; `null` where it does. */
  readonly unstamped: string | null;
  readonly hash: Buffer | null;
  /** The document lost its marking, and is to be stamped anew. */
  readonly lost?: boolean;
}

/** Writes levels, and has the index of lenses read them. */
export async function writeLevels(tx: Queries, now: Date, levels: readonly NewLevel[]): Promise<void> {
  for (const l of levels)
    if (l.level === undefined) await tx.run('DELETE FROM item_level WHERE item_id = ?', [l.item]);
    else
      await tx.run(
        'REPLACE INTO item_level (item_id, level, set_by, account_id, reason, set_at, unstamped, stamped_hash, lost) VALUES (?)',
        [
          [
            l.item,
            l.level,
            setByText(l.by),
            l.account ?? null,
            l.reason ?? '',
            toDatetime(now),
            l.unstamped?.slice(0, 400) ?? null,
            l.hash,
            l.lost ? 1 : 0,
          ],
        ],
      );
  await touchBlocks(
    tx,
    levels.map((l) => l.item),
  );
}

/** What its source lists of a document that was changed here, so that the next survey does not take it for somebody's edit. */
export async function writeListed(
  tx: Queries,
  item: number,
  listed: ListedItem,
  hash: Buffer,
): Promise<void> {
  await renameItem(tx, item, listed.name);
  await tx.run('UPDATE item SET size = ?, changed_at = ?, version = ?, content_hash = ? WHERE id = ?', [
    listed.size,
    listed.changed === null ? null : toDatetime(listed.changed),
    listed.version,
    hash,
    item,
  ]);
}
