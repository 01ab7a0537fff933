import { builtInDetectors } from '../../core/holdings/detection/library/library.ts';
import { heightened } from '../../core/holdings/records/contradictions.ts';
import { dayBefore } from '../../core/lens/lens-day.ts';
import type { Lens } from '../../core/lens/lens.ts';
import { lensText } from '../../core/lens/lens-text.ts';
import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleFigure } from '../figures/rule-figure.ts';
import { toDatetime } from '../store/columns.ts';
import { EACH_SOURCE_OF_ITEMS } from './items/each-source.ts';
import { RECORD_FIGURES } from './records/record-figures.ts';
import { DETECTOR } from './detection/detectors/own-detectors.ts';

const OLD_DAYS = 90;
const seen = { good: 'less', see: 'holdings.read' } as const;
const HELD = "SELECT COUNT(*) AS n FROM item i WHERE i.state <> 'gone'";
const EACH_SOURCE: Each = {
  key: 's.id',
  name: 's.name',
  parts: { system: '(SELECT name FROM data_system WHERE id = s.system_id)', kind: 's.kind' },
  link: ({ key }) => `/holdings/sources/${key}`,
};

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
  ruleFigure({
    ...seen,
    id: 'holdings.detectors',
    name: 'Own detectors in force',
    definition: 'Detectors of the organisation that read everything now, beside those that ship.',
    unit: 'detector',
    good: 'neither',
    link: '/holdings/detectors',
    kind: DETECTOR,
  }),
  countFigure({
    ...seen,
    id: 'holdings.items',
    name: 'Items read',
    definition: 'Files, messages, objects and row groups that surveys have read and that are still there.',
    unit: 'item',
    good: 'neither',
    link: '/holdings',
    counts: HELD,
    each: EACH_SOURCE_OF_ITEMS,
  }),
  countFigure({
    ...seen,
    id: 'holdings.unreadable',
    name: 'Items that could not be read',
    definition: 'Items of which nothing could be read, for a reason that each of them tells.',
    unit: 'item',
    link: lensLink({ fact: 'state', is: 'one of', values: ['unreadable'] }),
    counts: "SELECT COUNT(*) AS n FROM item i WHERE i.state = 'unreadable'",
    of: HELD,
    each: EACH_SOURCE_OF_ITEMS,
  }),
  countFigure({
    ...seen,
    id: 'holdings.systems-without-steward',
    name: 'Systems without a steward',
    definition: 'Systems whose data nobody looks after.',
    unit: 'system',
    link: '/holdings/systems',
    counts:
      "SELECT COUNT(*) AS n FROM data_system WHERE JSON_TYPE(JSON_EXTRACT(content, '$.steward')) = 'NULL'",
    of: 'SELECT COUNT(*) AS n FROM data_system',
    each: { key: 'id', name: 'name', link: ({ key }) => `/holdings/systems/${key}` },
  }),
  countFigure({
    ...seen,
    id: 'holdings.sources-old',
    name: 'Sources that were not surveyed lately',
    definition: `Sources that no survey has read in ${OLD_DAYS} days, or ever.`,
    unit: 'source',
    link: '/holdings/sources',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM source s WHERE s.read_at IS NULL OR s.read_at < ?',
      [toDatetime(daysBefore(now, OLD_DAYS))],
    ],
    of: 'SELECT COUNT(*) AS n FROM source',
    each: EACH_SOURCE,
  }),
  ...RECORD_FIGURES,
  countFigure({
    ...seen,
    id: 'holdings.sources-without-system',
    name: 'Sources that belong to no system',
    definition: 'Sources of which nobody said to which system they belong.',
    unit: 'source',
    link: '/holdings/sources',
    counts: 'SELECT COUNT(*) AS n FROM source s WHERE s.system_id IS NULL',
    of: 'SELECT COUNT(*) AS n FROM source',
    each: EACH_SOURCE,
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
    each: {
      key: 'id',
      name: 'name',
      parts: { kind: 'kind', source: '(SELECT name FROM listing WHERE id = listing_id)' },
      link: () => '/holdings/listings',
    },
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
    each: EACH_SOURCE_OF_ITEMS,
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
      `${HELD} AND i.people > 0 AND i.changed_at < ?`,
      [dayBefore(now.toISOString().slice(0, 10), UNTOUCHED)],
    ],
    of: `${HELD} AND i.people > 0`,
    each: EACH_SOURCE_OF_ITEMS,
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
    each: EACH_SOURCE_OF_ITEMS,
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
    each: EACH_SOURCE_OF_ITEMS,
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
    each: { key: 'id', name: 'name', link: ({ key }) => `/holdings/surveys/${key}` },
  }),
];
