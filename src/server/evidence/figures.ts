import { z } from 'zod';
import { countFigure, daysBefore } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

const seen = { good: 'less', see: 'ledger.read', link: '/evidence/ledger' } as const;

export const EVIDENCE_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    id: 'evidence.unsealed',
    name: 'Acts that are not sealed',
    definition:
      'Entries of the ledger that are older than an hour and in no sealed tree: until they are, nobody could prove them.',
    unit: 'entry',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM ledger_entry WHERE tree IS NULL AND at < ?',
      [toDatetime(daysBefore(now, 1 / 24))],
    ],
    of: 'SELECT COUNT(*) AS n FROM ledger_entry',
    each: { key: 'object', name: 'object', parts: { kind: 'object' }, link: () => '/evidence/ledger' },
  }),
  {
    ...seen,
    ...{ id: 'evidence.backup-proved', name: 'Days since a backup was proved', unit: 'day' },
    link: '/evidence/backups',
    definition:
      'Whole days since a backup was last restored elsewhere and the ledger in it verified; nothing before one was.',
    value: async (store, now) => ({ value: await daysSinceProof(store, now) }),
    rows: async (store, now) => {
      const days = await daysSinceProof(store, now);
      return days === null
        ? []
        : [{ key: 'last', name: 'The last that was proved', n: days, link: '/evidence/backups', parts: {} }];
    },
  },
  countFigure({
    ...seen,
    id: 'evidence.heads-lost',
    name: 'Heads of the ledger that are missing',
    definition:
      'Heads that were noted outside the database and that the ledger does not have any more: it was cut, rewritten or brought back from an older copy, and nobody has looked into it.',
    unit: 'head',
    counts: "SELECT COUNT(*) AS n FROM today_item WHERE kind = 'ledger'",
    each: { key: 'item_key', name: 'words', link: () => '/evidence/ledger?verify=now' },
  }),
];

async function daysSinceProof(store: Queries, now: Date): Promise<number | null> {
  const row = await store.one(
    z.object({ at: Instant.nullable() }),
    'SELECT MAX(proved_at) AS at FROM backup_run WHERE proved_at IS NOT NULL',
  );
  return row?.at ? Math.max(0, Math.floor((now.getTime() - Date.parse(row.at)) / 86_400_000)) : null;
}
