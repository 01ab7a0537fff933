import { z } from 'zod';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { rowIdentity, type EstateRow } from '../../../core/access/estate/estate-row.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { lineKey } from '../keys.ts';
import type { AccessSource } from '../sources/access-sources.ts';
import { findChange, settleChange } from './access-changes.ts';
import { tellIfStuck } from './change-job.ts';

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
      if (!step || !(await stands(tx, source.id, step))) continue;
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

/** Whether what a step makes is so. */
async function stands(tx: Queries, source: number, step: AccessStep): Promise<boolean> {
  const find = async (identity: string): Promise<EstateRow | undefined> => {
    const row = await tx.one(
      z.object({ content: z.string() }),
      'SELECT content FROM access_line WHERE source_id = ? AND line_key = ? AND went = 0',
      [source, lineKey(identity)],
    );
    return row && (JSON.parse(row.content) as EstateRow);
  };
  switch (step.is) {
    case 'grant':
      return ((await find(rowIdentity(step.grant))) !== undefined) === (step.act === 'add');
    case 'link':
      return ((await find(rowIdentity(step.link))) !== undefined) === (step.act === 'add');
    case 'member':
      return (
        ((await find(rowIdentity({ type: 'member', group: step.group, member: step.member }))) !==
          undefined) ===
        (step.act === 'add')
      );
    case 'inherits':
    case 'owner': {
      const place = await find(JSON.stringify(['place', step.place]));
      if (place?.type !== 'place') return false;
      return step.is === 'inherits' ? place.inherits === step.after : place.owner === step.after;
    }
  }
}
