import { countFigure, daysBefore } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { toDatetime } from '../store/columns.ts';

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
