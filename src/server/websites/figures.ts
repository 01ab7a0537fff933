import { wilson } from '../../core/interval.ts';
import { countFigure, daysBefore, outOf, rowsOf, type Each } from '../figures/count-figure.ts';
import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleFigure } from '../figures/rule-figure.ts';
import { toDatetime } from '../store/columns.ts';
import { sitePlace } from './sites/site-place.ts';
import { NOTICE } from './notices/notice-kind.ts';

/** The newest sweep of each site that saw a page. */
const NEWEST =
  "SELECT MAX(id) FROM sweep WHERE state IN ('complete', 'cancelled') AND pages > 0 GROUP BY site_id";

const SWEPT_AT_ALL = "state IN ('complete', 'cancelled') AND pages > 0";
const NEWEST_OF_SITE = `(SELECT MAX(id) FROM sweep WHERE site_id = s.id AND ${SWEPT_AT_ALL})`;
const SWEPT = `EXISTS (SELECT 1 FROM sweep WHERE site_id = s.id AND ${SWEPT_AT_ALL})`;

const DAYS = 30;
const SWEPT_DAYS = 31;
const LONGEST_DAYS = 395;
const BACK_DAYS = 90;
const MANY_CHOICES = 200;
const seen = { good: 'less', see: 'websites.read', link: '/websites' } as const;

const NEWEST_TRACKERS = `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id IN (${NEWEST})`;
const EACH_TRACKER: Each = {
  key: 's.tracker_id',
  name: 't.name',
  parts: { site: '(SELECT host FROM site WHERE id = t.site_id)', kind: 't.kind' },
  link: ({ parts, name }) => sitePlace(parts.site ?? '', `?tab=trackers&name=${encodeURIComponent(name)}`),
};
const EACH_SITE: Each = {
  key: 's.id',
  name: 's.host',
  parts: { site: 's.host', region: 's.region' },
  link: ({ name }) => sitePlace(name),
};
const hostOfKey = '(SELECT host FROM site WHERE id = g.row_key)';
const eachSiteOfChoices = (alias: string): Each => ({
  byKey: true,
  key: `${alias}.site_id`,
  name: hostOfKey,
  parts: { site: hostOfKey },
  link: ({ name }) => sitePlace(name, '?tab=records'),
});
const REGION = "SUBSTRING_INDEX(g.row_key, ' ', -1)";
const HOST = "(SELECT host FROM site WHERE id = SUBSTRING_INDEX(g.row_key, ' ', 1))";
/** Choices of a site in a region are a row. */
const EACH_CHOICES: Each = {
  byKey: true,
  key: "CONCAT(c.site_id, ' ', c.region)",
  name: `CONCAT(${HOST}, ', ', IF(${REGION} = '', 'region unknown', ${REGION}))`,
  parts: { site: HOST, region: `NULLIF(${REGION}, '')` },
  link: ({ parts }) => sitePlace(parts.site ?? '', '?tab=rates'),
};
const CHOICES = 'SELECT COUNT(*) AS n FROM consent_record c WHERE c.at >= ? AND c.at < ?';
const ALLOWING = `${CHOICES} AND c.choice <> 'refused all'`;

export const WEBSITE_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    id: 'websites.leaks',
    name: 'Leaks',
    definition:
      'Trackers that ran without permission in the newest sweep of their site, of all that were seen.',
    unit: 'tracker',
    counts: `${NEWEST_TRACKERS} AND s.leaks <> 0`,
    of: NEWEST_TRACKERS,
    each: EACH_TRACKER,
  }),
  countFigure({
    ...seen,
    id: 'websites.without-leak',
    name: 'Sites without a leak',
    definition: 'Sites in whose newest sweep no tracker ran without permission, of all that were swept.',
    unit: 'site',
    good: 'more',
    counts: `SELECT COUNT(*) AS n FROM site s WHERE ${SWEPT} AND NOT EXISTS
      (SELECT 1 FROM swept_tracker w WHERE w.leaks <> 0 AND w.sweep_id = ${NEWEST_OF_SITE})`,
    of: `SELECT COUNT(*) AS n FROM site s WHERE ${SWEPT}`,
    each: EACH_SITE,
  }),
  countFigure({
    ...seen,
    id: 'websites.unsorted',
    name: 'Trackers without a purpose',
    definition: 'Trackers in the newest sweep of their site of which nobody has said what they are for.',
    unit: 'tracker',
    counts: `${NEWEST_TRACKERS} AND t.purpose IS NULL`,
    of: NEWEST_TRACKERS,
    each: EACH_TRACKER,
  }),
  ruleFigure({
    ...seen,
    id: 'websites.asking',
    name: 'Sites that ask',
    definition: 'Sites whose notice is in force, of all that are in the program.',
    unit: 'site',
    good: 'more',
    kind: NOTICE,
    of: async (store) => ({ value: await count(store, 'SELECT COUNT(*) AS n FROM site') }),
  }),
  countFigure({
    ...seen,
    id: 'websites.sweeps-old',
    name: 'Sites not swept lately',
    definition: `Sites of which no sweep was whole in ${SWEPT_DAYS} days, or ever.`,
    unit: 'site',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM site s WHERE NOT EXISTS
         (SELECT 1 FROM sweep w WHERE w.site_id = s.id AND w.state = 'complete' AND w.pages > 0 AND w.finished_at >= ?)`,
      [toDatetime(daysBefore(now, SWEPT_DAYS))],
    ],
    of: 'SELECT COUNT(*) AS n FROM site',
    each: EACH_SITE,
  }),
  countFigure({
    ...seen,
    id: 'websites.lasting',
    name: 'Trackers that last longer than 13 months',
    definition:
      'Trackers in the newest sweep of their site that stay on a device for more than 395 days, essential ones apart.',
    unit: 'tracker',
    counts: `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id
      WHERE s.lifetime > ${LONGEST_DAYS * 86_400} AND COALESCE(t.purpose, '') <> 'essential' AND s.sweep_id IN (${NEWEST})`,
    of: NEWEST_TRACKERS,
    each: EACH_TRACKER,
  }),
  countFigure({
    ...seen,
    id: 'websites.essential-unsaid',
    name: 'Essential trackers without a reason',
    definition:
      'Trackers in the newest sweep of their site that somebody called essential without saying why, of all that somebody called so.',
    unit: 'tracker',
    counts: `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id
      WHERE t.decided = 'essential' AND COALESCE(TRIM(t.because), '') = '' AND s.sweep_id IN (${NEWEST})`,
    of: `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id
      WHERE t.decided = 'essential' AND s.sweep_id IN (${NEWEST})`,
    each: EACH_TRACKER,
  }),
  countFigure({
    ...seen,
    id: 'websites.proposed',
    name: 'Trackers that the program sorted alone',
    definition:
      'Trackers in the newest sweep of their site whose purpose the program proposed and nobody has decided yet.',
    unit: 'tracker',
    counts: `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id
      WHERE t.decided IS NULL AND s.sweep_id IN (${NEWEST})`,
    of: NEWEST_TRACKERS,
    each: EACH_TRACKER,
  }),
  countFigure({
    ...seen,
    see: 'consent.read',
    id: 'websites.choices-unsealed',
    name: 'Choices without proof',
    definition: `Choices of the last ${DAYS} days, older than an hour, whose entry in the ledger is in no sealed tree.`,
    unit: 'choice',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM consent_record c LEFT JOIN ledger_entry l ON l.id = c.ledger_id AND l.tree IS NOT NULL
       WHERE c.at >= ? AND c.at < ? AND l.id IS NULL`,
      [toDatetime(daysBefore(now, DAYS)), toDatetime(daysBefore(now, 1 / 24))],
    ],
    of: (now) => [
      'SELECT COUNT(*) AS n FROM consent_record WHERE at >= ? AND at < ?',
      [toDatetime(daysBefore(now, DAYS)), toDatetime(daysBefore(now, 1 / 24))],
    ],
    each: eachSiteOfChoices('c'),
  }),
  countFigure({
    ...seen,
    see: 'consent.read',
    id: 'websites.never-withdrawn',
    name: 'Sites where nobody takes a choice back',
    definition: `Sites with at least ${MANY_CHOICES} choices in ${BACK_DAYS} days of which none was changed or withdrawn: the way back may be hard to find.`,
    unit: 'site',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM (SELECT site_id FROM consent_record WHERE at >= ? GROUP BY site_id
         HAVING COUNT(*) >= ${MANY_CHOICES} AND SUM(act IN ('changed', 'withdrawn')) = 0) AS s`,
      [toDatetime(daysBefore(now, BACK_DAYS))],
    ],
    of: (now) => [
      `SELECT COUNT(*) AS n FROM (SELECT site_id FROM consent_record WHERE at >= ? GROUP BY site_id
         HAVING COUNT(*) >= ${MANY_CHOICES}) AS s`,
      [toDatetime(daysBefore(now, BACK_DAYS))],
    ],
    each: eachSiteOfChoices('s'),
  }),
  {
    id: 'websites.allowing',
    name: 'Visitors who allow something',
    definition: `Choices of the last ${DAYS} days that allowed at least one purpose, of all choices.`,
    unit: '%',
    good: 'neither',
    see: 'consent.read',
    link: '/websites',
    ...{ from: 'share', sampledDays: DAYS, parts: ['region', 'site'] },
    value: async (store, now) => {
      const within = [toDatetime(daysBefore(now, DAYS)), toDatetime(now)];
      const all = await count(store, CHOICES, within);
      const share = wilson(await count(store, ALLOWING, within), all);
      return { value: share?.share ?? null, of: all, ...(share ? { low: share.low, high: share.high } : {}) };
    },
    rows: async (store, now) => {
      const within = [toDatetime(daysBefore(now, DAYS)), toDatetime(now)];
      return outOf(
        await rowsOf(store, [ALLOWING, within], EACH_CHOICES),
        await rowsOf(store, [CHOICES, within], EACH_CHOICES),
      );
    },
  },
];
