import { z } from 'zod';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findWork } from './measure-work-object.ts';

export interface MeasureComment {
  readonly id: number;
  readonly said: string;
  readonly by: string;
  readonly at: string;
}

/** What people said to each other about a measure, the oldest first. */
export async function commentsOf(
  store: Queries,
  cycle: number,
  measure: string,
): Promise<readonly MeasureComment[]> {
  const rows = await store.all(
    z.object({ id: z.number(), said: z.string(), by: z.string().nullable(), at: Instant }),
    `SELECT c.id, c.said, a.name AS \`by\`, c.said_at AS at FROM measure_comment c LEFT JOIN account a ON a.id = c.said_by
     WHERE c.cycle_id = ? AND c.measure = ? ORDER BY c.id LIMIT 1000`,
    [cycle, measure],
  );
  return rows.map((r) => ({ ...r, by: r.by ?? 'somebody who is gone' }));
}

/** Its number. Throws a RefusedError (404). */
export async function addComment(ctx: Context, by: number, key: string, said: string): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const { cycle, measure } = await findWork(tx, key);
    const { id } = await tx.run(
      'INSERT INTO measure_comment (cycle_id, measure, said, said_by, said_at) VALUES (?, ?, ?, ?, ?)',
      [cycle, measure.id, said, by, toDatetime(ctx.now())],
    );
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'measure-comment.add', object: 'measure work', objectId: key },
      detail: { comment: id },
    });
    return id;
  });
}
