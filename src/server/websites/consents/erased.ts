import { z } from 'zod';
import { Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { parseUuid, uuidTime } from './record-id.ts';

/** What the ledger tells of records that were taken out: on request one by one, or all before a day. */
const Erased = z.object({ ids: z.array(z.string()).default([]), before: z.string().optional() });

async function readErased(
  store: Queries,
  actions: readonly string[] = ['consent.erase', 'consent.end'],
): Promise<{ readonly ids: ReadonlySet<string>; readonly before: number }> {
  const entries = await store.all(
    z.object({ detail: JsonColumn(Erased) }),
    'SELECT detail FROM ledger_entry WHERE action IN (?)',
    [actions],
  );
  return {
    ids: new Set(entries.flatMap((e) => e.detail.ids)),
    before: Math.max(0, ...entries.map((e) => (e.detail.before ? Date.parse(e.detail.before) : 0))),
  };
}

/** Of record numbers, those that the ledger says were taken out, by these actions of it. */
export async function erasedAmong(
  store: Queries,
  ids: readonly string[],
  actions?: readonly string[],
): Promise<ReadonlySet<string>> {
  const erased = await readErased(store, actions);
  return new Set(ids.filter((id) => erased.ids.has(id) || timeOf(id) < erased.before));
}

/** How many records should stand by the ledger, and how many do: of the time that the log still keeps. */
export async function consentCounts(store: Queries): Promise<{ told: number; there: number }> {
  const { ids, before } = await readErased(store);
  const since = toDatetime(new Date(before));
  const row = await store.one(
    z.object({ told: Count, there: Count }),
    "SELECT (SELECT COUNT(*) FROM ledger_entry WHERE action = 'consent.record' AND at >= ?) AS told, (SELECT COUNT(*) FROM consent_record WHERE at >= ?) AS there",
    [since, since],
  );
  const taken = [...ids].filter((id) => timeOf(id) >= before).length;
  return { told: (row?.told ?? 0) - taken, there: row?.there ?? 0 };
}

function timeOf(id: string): number {
  const bytes = parseUuid(id);
  return bytes ? uuidTime(bytes) : Infinity;
}
