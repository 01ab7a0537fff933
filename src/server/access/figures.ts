import type { FigureRow } from '../../core/figures/figure-row.ts';
import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { handsRules, viewHands } from './hands/hands-rules.ts';
import { lastRound } from './breadth/find-breadth.ts';
import { findingRows } from './breadth/finding-rows.ts';

/** What is too broad in one way; nothing before an estate was read. */
const counted = (kind: string) => ({
  value: async (store: Queries) => {
    const round = await roundOf(store, kind);
    return { value: round ? (round.counts[kind] ?? 0) : null };
  },
  rows: async (store: Queries): Promise<readonly FigureRow[]> => {
    const round = await roundOf(store, kind);
    return round ? findingRows(store, kind, round.counts[kind] ?? 0) : [];
  },
});
/** Nothing is known of what lies in places before any item was read. */
async function roundOf(store: Queries, kind: string) {
  const isRead = kind !== 'wide' || (await count(store, 'SELECT EXISTS (SELECT 1 FROM item) AS n')) > 0;
  return isRead ? lastRound(store) : undefined;
}

/** Rights that were not read for longer say little of who reaches what now. */
const READ_DAYS = 7;
const EACH_REVIEW: Each = { key: 'r.id', name: 'r.name', link: ({ key }) => `/access/reviews/${key}` };
const common = { see: 'access.read', good: 'less' } as const;

export const ACCESS_FIGURES: readonly Figure[] = [
  {
    ...common,
    id: 'access.wide',
    name: 'Places with sensitive data that are open to most',
    definition:
      'Places with grants of their own in which people’s sensitive data lies, and that more than half of all people, or whoever has a link, can read.',
    unit: 'place',
    link: '/access/broad?kind=exposed',
    ...counted('wide'),
  },
  {
    ...common,
    id: 'access.leavers',
    name: 'Leavers who reach something',
    definition: 'People whose work is over, whose account is open, and who reach at least one place.',
    unit: 'person',
    link: '/access/broad?kind=leaver',
    ...counted('leaver'),
  },
  {
    ...common,
    id: 'access.links',
    name: 'Links without end',
    definition: 'Links to places that nothing ends by itself.',
    unit: 'link',
    link: '/access/broad?kind=link+without+end',
    ...counted('link without end'),
  },
  {
    ...common,
    id: 'access.guests',
    name: 'Guests who reach something',
    definition: 'People from outside whose account is open, and who reach at least one place.',
    unit: 'person',
    link: '/access/broad?kind=guest',
    ...counted('guest'),
  },
  countFigure({
    ...common,
    id: 'access.reviews-late',
    name: 'Reviews past their day',
    definition: 'Reviews of access that are open, and were to be answered by now; of all that were begun.',
    unit: 'review',
    link: '/access/reviews',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM access_review r WHERE r.state = 'open' AND r.due < ?",
      [now.toISOString().slice(0, 10)],
    ],
    of: 'SELECT COUNT(*) AS n FROM access_review',
    each: EACH_REVIEW,
  }),
  {
    ...common,
    id: 'access.given-on',
    name: 'Places that many can give to others',
    definition: 'Places whose rights more people can change than have to.',
    unit: 'place',
    link: '/access/broad?kind=gives+to+others',
    ...counted('gives to others'),
  },
  {
    ...common,
    id: 'access.direct',
    name: 'Grants to people by name',
    definition: 'Places at which something is given to people themselves, and not to a group.',
    unit: 'place',
    link: '/access/broad?kind=direct+grant',
    ...counted('direct grant'),
  },
  {
    ...common,
    id: 'access.stale-groups',
    name: 'Groups that use nothing',
    definition: 'Groups none of whose people used what the group was given, where use is known.',
    unit: 'group',
    link: '/access/broad?kind=stale+group',
    ...counted('stale group'),
  },
  {
    ...common,
    id: 'access.empty-groups',
    name: 'Groups without people',
    definition: 'Groups that are given something and have nobody in them.',
    unit: 'group',
    link: '/access/broad?kind=empty+group',
    ...counted('empty group'),
  },
  {
    ...common,
    id: 'access.both-hands',
    name: 'People who hold both hands',
    definition:
      'People who can do what a rule of two pairs of hands says that nobody may do alone; nothing without a rule.',
    unit: 'person',
    link: '/access/hands',
    value: async (store, _now, ctx) => {
      if ((await handsRules(store)).length === 0 || !(await lastRound(store))) return { value: null };
      const rules = await viewHands(ctx);
      return { value: rules.reduce((n, r) => n + r.count, 0) };
    },
    rows: async (store, _now, ctx) =>
      (await handsRules(store)).length === 0 || !(await lastRound(store))
        ? []
        : (await viewHands(ctx)).map((r) => ({
            ...{
              key: String(r.id),
              name: r.name,
              n: r.count,
              parts: { rule: r.name },
              link: '/access/hands',
            },
          })),
    parts: ['rule'],
  },
  countFigure({
    ...common,
    id: 'access.sources-old',
    name: 'Sources of rights not read lately',
    definition: `Sources of rights that were not read in ${READ_DAYS} days, or never.`,
    unit: 'source',
    link: '/access/sources',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM access_source WHERE removed_at IS NULL AND (read_at IS NULL OR read_at < ?)',
      [toDatetime(daysBefore(now, READ_DAYS))],
    ],
    of: 'SELECT COUNT(*) AS n FROM access_source WHERE removed_at IS NULL',
    each: { key: 'id', name: 'name', parts: { kind: 'kind' }, link: ({ key }) => `/access/sources/${key}` },
  }),
  countFigure({
    ...common,
    id: 'access.changes-partly',
    name: 'Changes of rights that were done in part',
    definition: 'Changes that ended with a step that failed, and that nobody undid.',
    unit: 'change',
    link: '/access/changes',
    counts: `SELECT COUNT(*) AS n FROM access_change c WHERE c.state = 'partly'
      AND NOT EXISTS (SELECT 1 FROM access_change u WHERE u.undoes = c.id AND u.state = 'done')`,
    of: "SELECT COUNT(*) AS n FROM access_change WHERE state IN ('done', 'partly')",
    each: { key: 'c.id', name: 'c.name', link: ({ key }) => `/access/changes/${key}` },
  }),
  countFigure({
    ...common,
    id: 'access.owners-silent',
    name: 'Questions that owners leave open',
    definition: 'Grants and links of open reviews that their owner did not answer by the day.',
    unit: 'question',
    link: '/access/reviews',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM access_review_line l JOIN access_review r ON r.id = l.review_id
       WHERE r.state = 'open' AND r.due < ? AND l.answer IS NULL`,
      [now.toISOString().slice(0, 10)],
    ],
    of: "SELECT COUNT(*) AS n FROM access_review_line l JOIN access_review r ON r.id = l.review_id WHERE r.state = 'open'",
    each: EACH_REVIEW,
  }),
];
