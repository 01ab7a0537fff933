import { z } from 'zod';
import { isStepDone } from '../../../core/access/change/step-row.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { Context } from '../../context.ts';
import type { AccessSource } from '../sources/access-sources.ts';
import { findChange, settleChange } from './access-changes.ts';
import { standingRow, tellIfStuck } from './change-job.ts';

/** Steps that somebody was asked to do by hand, and that the reading that is under way shows as done. */
export async function settleOrders(tx: Queries, now: Date, source: AccessSource): Promise<void> {
  const ordered = await tx.all(
    z.object({ change_id: z.number(), n: z.number() }),
    "SELECT change_id, n FROM access_step WHERE state = 'ordered' AND source_id = ? ORDER BY change_id, n LIMIT 5000",
    [source.id],
  );
  const settled = new Set<number>();
  for (const change of new Set(ordered.map((o) => o.change_id))) {
    const { steps } = await findChange(tx, change, true);
    for (const { n } of ordered.filter((o) => o.change_id === change)) {
      const step = steps[n];
      if (!step || !isStepDone(step, (await standingRow(tx, source.id, step))?.row)) continue;
      await tx.run(
        "UPDATE access_step SET state = 'done', told = 'seen when its source was read', at = ? WHERE change_id = ? AND n = ?",
        [toDatetime(now), change, n],
      );
      settled.add(change);
    }
  }
  for (const change of settled) {
    await settleChange(tx, { now: () => now }, change);
    await tellIfStuck(tx, { now: () => now }, change);
  }
}

/** Nobody will see them done any more: their source is taken out. */
export async function giveUpOrders(tx: Queries, ctx: Pick<Context, 'now'>, source: number): Promise<void> {
  const changes = await tx.all(
    z.object({ id: z.number() }),
    "SELECT DISTINCT change_id AS id FROM access_step WHERE state = 'ordered' AND source_id = ?",
    [source],
  );
  await tx.run(
    "UPDATE access_step SET state = 'failed', told = 'its source was taken out', at = ? WHERE state = 'ordered' AND source_id = ?",
    [toDatetime(ctx.now()), source],
  );
  for (const { id } of changes) {
    await settleChange(tx, ctx, id);
    await tellIfStuck(tx, ctx, id);
  }
}

/** What is to be done by hand for a change, as a paper for whoever owns the sources. Throws a RefusedError (404). */
export async function workOrder(store: Queries, id: number): Promise<string> {
  const change = await findChange(store, id);
  const steps = await store.all(
    z.object({ n: z.number(), words: z.string(), source: z.string().nullable() }),
    `SELECT t.n, t.words, s.name AS source FROM access_step t LEFT JOIN access_source s ON s.id = t.source_id
     WHERE t.change_id = ? AND t.state = 'ordered' ORDER BY t.source_id, t.n`,
    [id],
  );
  const lines = [`Change ${id}: ${change.name}`, ...(change.reason ? [change.reason] : [])];
  let source: string | undefined;
  for (const s of steps) {
    if (s.source !== source) {
      source = s.source ?? 'no source';
      lines.push('', `At ${source}:`);
    }
    lines.push(`[ ] ${s.n + 1}. ${s.words}`);
  }
  return `${lines.join('\n')}\n`;
}
