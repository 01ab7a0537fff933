import { z } from 'zod';
import { fateOf } from '../../../../core/cases/requests/erasure/erasure.ts';
import type { Context } from '../../../context.ts';
import { keepersOf } from '../../../retention/offers.ts';
import { BigId, Flag } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { ORIGINS } from '../search/keep-item.ts';
import { findRequest } from '../request-row.ts';

export const PlannedRow = z.object({
  id: BigId,
  origin: z.enum(ORIGINS),
  item_id: BigId.transform(Number).nullable(),
  people: z.number(),
  rows_theirs: z.number(),
  rows_left: z.number(),
  format: z.string(),
  kind: z.string().nullable(),
  reason: z.string(),
  kept: Flag,
});

/** Formats whose text can be written back without the rest changing. */
const TEXTS = new Set(['plain text', 'CSV']);

/**
 * Weighs what becomes of each item of somebody who asks to have it deleted: nothing is changed by it. What was carried out
 * stands.
 */
export async function planChanges(tx: Queries, ctx: Context, id: number): Promise<void> {
  const row = await findRequest(tx, id);
  if (row.kind !== 'delete' && row.kind !== 'correct') return;
  const items = await tx.all(
    PlannedRow,
    `SELECT i.id, i.origin, i.item_id, i.people, i.rows_theirs, i.rows_left, i.format, o.kind, i.reason, i.ground <=> 'kept' AS kept
     FROM request_item i LEFT JOIN source o ON o.id = i.source_id
     WHERE i.request_id = ? AND i.theirs = 'yes' AND (i.change_state IS NULL OR i.change_state <> 'done') FOR UPDATE`,
    [id],
  );
  const keepers = await keepersOf(
    ctx,
    items.flatMap((i) => i.item_id ?? []),
    tx,
  );
  for (const i of items) {
    const alone = i.rows_theirs > 0 ? i.rows_left === 0 : i.people === 0;
    const isDatabase = i.kind === 'mariadb' || i.kind === 'postgresql';
    const own = i.origin === 'preferences' || i.origin === 'choices';
    const fate =
      row.kind === 'correct'
        ? ({ is: 'by hand', why: 'what is put right is written by whoever knows it' } as const)
        : fateOf({
            keepers: i.item_id === null ? [] : (keepers.get(i.item_id) ?? []),
            ...{ alone, exception: i.kept ? i.reason : '' },
            can: {
              remove: own || (!isDatabase && i.origin === 'item'),
              replace: !isDatabase && TEXTS.has(i.format),
            },
          });
    await tx.run(
      'UPDATE request_item SET fate = ?, fate_why = ?, fate_article = ?, change_state = ? WHERE id = ?',
      [
        fate.is,
        ('why' in fate ? fate.why : '').slice(0, 500),
        'article' in fate ? fate.article : '',
        fate.is === 'kept' ? 'kept' : fate.is === 'by hand' ? 'by hand' : null,
        i.id,
      ],
    );
  }
}
