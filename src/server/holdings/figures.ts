import { toDatetime } from '../store/columns.ts';
import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { builtInDetectors } from '../../core/holdings/detection/library/library.ts';
import { heightened } from '../../core/holdings/records/contradictions.ts';
import { dayBefore } from '../../core/lens/lens-day.ts';
import type { Lens } from '../../core/lens/lens.ts';
import { lensText } from '../../core/lens/lens-text.ts';
import { countFigure, daysBefore } from '../figures/count-figure.ts';
import { RECORD_FIGURES } from './records/record-figures.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';

const OLD_DAYS = 90;
const seen = { good: 'less', see: 'holdings.read' } as const;
const HELD = "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'";

/** Built-in detectors of a category. */
function detectorsOf(category: string): readonly string[] {
  return builtInDetectors()
    .filter((d) => d.category === category)
    .map((d) => d.id);
}

function heightenedDetectors(): readonly string[] {
  return builtInDetectors()
    .map((d) => d.id)
    .filter((d) => heightened(d) !== undefined);
}

/** Items that are there in which any of these detectors found something. Ids are the library’s own. */
function itemsWith(detectors: readonly string[], more = ''): string {
  return `SELECT COUNT(DISTINCT i.id) AS n FROM finding f JOIN item i ON i.id = f.item_id
    WHERE f.rehearsed = 0 AND f.detector IN (${detectors.map((d) => `'${d}'`).join(', ')}) AND i.state <> 'gone' ${more}`;
}

const lensLink = (...all: readonly Lens[]) =>
  `/holdings?lens=${encodeURIComponent(lensText(all.length === 1 ? (all[0] as Lens) : { all }))}`;
const holding = (detectors: readonly string[]): Lens => ({
  fact: 'data',
  is: 'one of',
  values: [...detectors],
});
const UNLEVELLED: Lens = { fact: 'level', is: 'unknown' };
const UNTOUCHED = { count: 7, unit: 'years' } as const;

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
  ...RECORD_FIGURES,
  countFigure({
    ...seen,
    id: 'holdings.sources-without-system',
    name: 'Sources that belong to no system',
    definition: 'Sources of which nobody said to which system they belong.',
    unit: 'source',
    link: '/holdings/sources',
    counts: 'SELECT COUNT(*) AS n FROM source WHERE system_id IS NULL',
    of: 'SELECT COUNT(*) AS n FROM source',
  }),
  countFigure({
    ...seen,
    id: 'holdings.stores-open',
    name: 'Stores that nobody sorted',
    definition:
      'Stores that a listing of an account names, that are there, and that are neither a source nor set aside with a reason.',
    unit: 'store',
    link: '/holdings/listings',
    counts: "SELECT COUNT(*) AS n FROM found_store WHERE standing = 'open' AND news <> 'gone'",
    of: "SELECT COUNT(*) AS n FROM found_store WHERE news <> 'gone'",
  }),
  countFigure({
    ...seen,
    id: 'holdings.credentials',
    name: 'Items with passwords or keys in them',
    definition: 'Items in which surveys found passwords, keys or tokens.',
    unit: 'item',
    link: lensLink(holding(detectorsOf('credential'))),
    counts: itemsWith(detectorsOf('credential')),
    of: HELD,
  }),
  countFigure({
    ...seen,
    id: 'holdings.untouched',
    name: 'Items that nobody changed in seven years',
    definition:
      'Items with data of people that were last changed more than seven years ago, whatever rules say of them.',
    unit: 'item',
    link: lensLink(
      { fact: 'people', is: 'at least', number: 1 },
      { fact: 'changed', is: 'longer ago than', span: UNTOUCHED },
    ),
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone' AND people > 0 AND changed_at < ?",
      [dayBefore(now.toISOString().slice(0, 10), UNTOUCHED)],
    ],
    of: "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone' AND people > 0",
  }),
  countFigure({
    ...seen,
    id: 'holdings.special-unlevelled',
    name: 'Items with special categories without a level',
    definition:
      'Items in which surveys found special categories of data, data on offences or of children, and that have no level.',
    unit: 'item',
    link: lensLink(holding(heightenedDetectors()), UNLEVELLED),
    counts: itemsWith(
      heightenedDetectors(),
      'AND NOT EXISTS (SELECT 1 FROM item_level l WHERE l.item_id = i.id)',
    ),
    of: itemsWith(heightenedDetectors()),
  }),
  countFigure({
    ...seen,
    id: 'holdings.children-unlevelled',
    name: 'Items with children’s data without a level',
    definition: 'Items in which surveys found data of children, and that have no level.',
    unit: 'item',
    link: lensLink(holding(detectorsOf('child')), UNLEVELLED),
    counts: itemsWith(
      detectorsOf('child'),
      'AND NOT EXISTS (SELECT 1 FROM item_level l WHERE l.item_id = i.id)',
    ),
    of: itemsWith(detectorsOf('child')),
  }),
  countFigure({
    ...seen,
    id: 'holdings.surveys-late',
    name: 'Surveys that should have begun',
    definition: 'Surveys whose time to begin again was more than a day ago.',
    unit: 'survey',
    link: '/holdings/surveys',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM survey WHERE next_run < ?',
      [toDatetime(daysBefore(now, 1))],
    ],
    of: 'SELECT COUNT(*) AS n FROM survey',
  }),
];
