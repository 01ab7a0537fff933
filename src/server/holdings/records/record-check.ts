import { z } from 'zod';
import {
  contradictions,
  type Contradiction,
  type FoundInSystem,
} from '../../../core/holdings/records/contradictions.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { askLens } from '../items/index/ask-lens.ts';
import { inSources } from '../items/found-in-system.ts';
import { itemNames } from '../items/item-names.ts';
import { allActivities } from './activities.ts';

export interface CheckedContradiction extends Contradiction {
  /** Somebody said that it is as it should be. */
  readonly accepted: { readonly reason: string; readonly by: string; readonly at: string } | null;
}

const SystemRow = z.object({ id: z.number(), name: z.string(), steward: z.string().nullable() });
const SourceRow = z.object({ id: z.number(), system_id: z.number() });

/** What surveys found, system by system. */
async function foundInSystems(ctx: Context): Promise<readonly FoundInSystem[]> {
  const systems = await ctx.store.all(
    SystemRow,
    "SELECT id, name, JSON_VALUE(content, '$.steward') AS steward FROM data_system ORDER BY name",
  );
  const sources = await ctx.store.all(
    SourceRow,
    'SELECT id, system_id FROM source WHERE system_id IS NOT NULL',
  );
  const today = ctx.now().toISOString().slice(0, 10);
  return Promise.all(
    systems.map(async ({ id, name, steward }): Promise<FoundInSystem> => {
      const mine = sources.filter((s) => s.system_id === id).map((s) => String(s.id));
      const found = await askLens(ctx, {
        lens: inSources(mine),
        today,
        sources: null,
        ask: { what: 'data' },
      });
      return {
        id: String(id),
        name,
        hasSteward: steward !== null,
        sources: mine,
        data: new Map(found.data.map((d) => [d.value, d.count])),
        items: found.items,
      };
    }),
  );
}

const Accepted = z.object({
  contradiction: z.string(),
  reason: z.string(),
  accepted_at: Instant,
  name: z.string().nullable(),
});

/** Records held against the estate as it was read last. */
export async function checkRecords(ctx: Context): Promise<readonly CheckedContradiction[]> {
  const [activities, systems, names, accepted] = await Promise.all([
    allActivities(ctx.store),
    foundInSystems(ctx),
    itemNames(ctx.store),
    ctx.store.all(
      Accepted,
      'SELECT c.contradiction, c.reason, c.accepted_at, a.name FROM accepted_contradiction c LEFT JOIN account a ON a.id = c.accepted_by',
    ),
  ]);
  const byKey = new Map(accepted.map((a) => [a.contradiction, a]));
  const found = contradictions(
    activities,
    systems,
    (d) => names.detectors.get(d) ?? d,
    ctx.now().toISOString().slice(0, 10),
  );
  return found.map((c) => {
    const said = byKey.get(c.key);
    return {
      ...c,
      accepted: said
        ? { reason: said.reason, by: said.name ?? 'somebody who left', at: said.accepted_at }
        : null,
    };
  });
}

/** Says that a contradiction is as it should be, and why; without a reason, takes that back. */
export async function acceptContradiction(
  tx: Queries,
  now: Date,
  by: number,
  key: string,
  reason: string | null,
): Promise<void> {
  if (reason !== null && reason.trim() === '')
    throw new RefusedError('Say why it is as it should be.', [
      { field: 'reason', message: 'A sentence will do.' },
    ]);
  if (reason === null) await tx.run('DELETE FROM accepted_contradiction WHERE contradiction = ?', [key]);
  else
    await tx.run(
      'REPLACE INTO accepted_contradiction (contradiction, reason, accepted_by, accepted_at) VALUES (?, ?, ?, ?)',
      [key, reason.trim(), by, toDatetime(now)],
    );
  await record(tx, now, {
    actor: by,
    action: reason === null ? 'contradiction.reopen' : 'contradiction.accept',
    object: 'activity',
    objectId: 'contradictions',
    detail: { contradiction: key, ...(reason === null ? {} : { reason: reason.trim() }) },
  });
}
