import { z } from 'zod';
import type { Queries } from './pool.ts';

/** Partitioned by month on `at`: those with a last partition `later` for what no month holds yet. */
async function monthlyTables(store: Queries): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ name: z.string() }),
    "SELECT DISTINCT table_name AS name FROM information_schema.partitions WHERE table_schema = DATABASE() AND partition_name = 'later' ORDER BY table_name",
  );
  return rows.map((r) => r.name);
}

/** Gives each monthly table a partition for every month from `from` to `ahead` months after `now`, where it lacks one. */
export async function ensureMonths(store: Queries, from: Date, now: Date, ahead = 3): Promise<void> {
  for (const table of await monthlyTables(store)) {
    const existing = await store.all(
      z.object({ name: z.string() }),
      'SELECT partition_name AS name FROM information_schema.partitions WHERE table_schema = DATABASE() AND table_name = ?',
      [table],
    );
    const newest = existing
      .map((p) => p.name)
      .filter((n) => n.startsWith('m'))
      .sort()
      .at(-1);
    const missing = months(from, now, ahead).filter((m) => newest === undefined || m.name > newest);
    if (missing.length === 0) continue;
    const parts = missing.map((m) => `PARTITION ${m.name} VALUES LESS THAN ('${m.end}')`).join(', ');
    await store.run(
      `ALTER TABLE ${table} REORGANIZE PARTITION later INTO (${parts}, PARTITION later VALUES LESS THAN (MAXVALUE))`,
    );
  }
}

function months(from: Date, now: Date, ahead: number): { name: string; end: string }[] {
  const out: { name: string; end: string }[] = [];
  const last = new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() + ahead, 1));
  for (let m = new Date(Date.UTC(from.getUTCFullYear(), from.getUTCMonth(), 1)); m <= last;) {
    const end = new Date(Date.UTC(m.getUTCFullYear(), m.getUTCMonth() + 1, 1));
    out.push({
      name: `m${m.toISOString().slice(0, 7).replace('-', '')}`,
      end: end.toISOString().slice(0, 10),
    });
    m = end;
  }
  return out;
}
