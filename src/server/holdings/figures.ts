import { toDatetime } from '../store/columns.ts';
import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';

const OLD_DAYS = 90;

export const HOLDINGS_FIGURES: readonly Figure[] = [
  {
    id: 'holdings.detectors',
    name: 'Own detectors in force',
    definition: 'Detectors of the organisation that read everything now, beside those that ship.',
    unit: 'detector',
    good: 'neither',
    see: 'holdings.read',
    link: '/holdings/detectors',
    value: async (store) => ({ value: (await ruleCounts(store, [DETECTOR.object])).inForce }),
  },
  {
    id: 'holdings.items',
    name: 'Items read',
    definition: 'Files, messages, objects and row groups that surveys have read and that are still there.',
    unit: 'item',
    good: 'neither',
    see: 'holdings.read',
    link: '/holdings',
    value: async (store) => ({
      value: await count(store, "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'"),
    }),
  },
  {
    id: 'holdings.unreadable',
    name: 'Items that could not be read',
    definition: 'Items of which nothing could be read, for a reason that each of them tells.',
    unit: 'item',
    good: 'less',
    see: 'holdings.read',
    link: `/holdings?lens=${encodeURIComponent('state one of "unreadable"')}`,
    value: async (store) => ({
      value: await count(store, "SELECT COUNT(*) AS n FROM item WHERE state = 'unreadable'"),
      of: await count(store, "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'"),
    }),
  },
  {
    id: 'holdings.systems-without-steward',
    name: 'Systems without a steward',
    definition: 'Systems whose data nobody looks after.',
    unit: 'system',
    good: 'less',
    see: 'holdings.read',
    link: '/holdings/systems',
    value: async (store) => ({
      value: await count(
        store,
        "SELECT COUNT(*) AS n FROM data_system WHERE JSON_TYPE(JSON_EXTRACT(content, '$.steward')) = 'NULL'",
      ),
      of: await count(store, 'SELECT COUNT(*) AS n FROM data_system'),
    }),
  },
  {
    id: 'holdings.sources-old',
    name: 'Sources that were not surveyed lately',
    definition: `Sources that no survey has read in ${OLD_DAYS} days, or ever.`,
    unit: 'source',
    good: 'less',
    see: 'holdings.read',
    link: '/holdings/sources',
    value: async (store, now) => ({
      value: await count(store, 'SELECT COUNT(*) AS n FROM source WHERE read_at IS NULL OR read_at < ?', [
        toDatetime(new Date(now.getTime() - OLD_DAYS * 86_400_000)),
      ]),
      of: await count(store, 'SELECT COUNT(*) AS n FROM source'),
    }),
  },
];
