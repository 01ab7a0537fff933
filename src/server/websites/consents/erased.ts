import { z } from 'zod';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { parseUuid, uuidTime } from './record-id.ts';

/** What the ledger tells of records that were taken out: on request one by one, or all before a day. */
const Erased = z.object({ ids: z.array(z.string()).default([]), before: z.string().optional() });

/** Of record numbers, those that the ledger says were taken out. */
export async function erasedAmong(store: Queries, ids: readonly string[]): Promise<ReadonlySet<string>> {
  const entries = await store.all(
    z.object({ detail: JsonColumn(Erased) }),
    "SELECT detail FROM ledger_entry WHERE action IN ('consent.erase', 'consent.end')",
  );
  const one = new Set(entries.flatMap((e) => e.detail.ids));
  const before = Math.max(0, ...entries.map((e) => (e.detail.before ? Date.parse(e.detail.before) : 0)));
  return new Set(
    ids.filter((id) => {
      const bytes = parseUuid(id);
      return one.has(id) || (bytes !== undefined && uuidTime(bytes) < before);
    }),
  );
}
