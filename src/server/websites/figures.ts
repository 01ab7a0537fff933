import { wilson } from '../../core/interval.ts';
import { count } from '../figures/count.ts';
import { countFigure, daysBefore } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { toDatetime } from '../store/columns.ts';
import { NOTICE } from './notices/notice-kind.ts';

/** The newest sweep of each site that saw a page. */
const NEWEST =
  "SELECT MAX(id) FROM sweep WHERE state IN ('complete', 'cancelled') AND pages > 0 GROUP BY site_id";

const DAYS = 30;
const SWEPT_DAYS = 31;
const LONGEST_DAYS = 395;
const BACK_DAYS = 90;
const MANY_CHOICES = 200;
const seen = { good: 'less', see: 'websites.read', link: '/websites' } as const;

export const WEBSITE_FIGURES: readonly Figure[] = [
  {
    id: 'websites.leaks',
    name: 'Leaks',
    definition:
      'Trackers that ran without permission in the newest sweep of their site, of all that were seen.',
    unit: 'tracker',
    good: 'less',
    see: 'websites.read',
    link: '/websites',
    value: async (store) => ({
      value: await count(
        store,
        `SELECT COUNT(*) AS n FROM swept_tracker WHERE leaks <> 0 AND sweep_id IN (${NEWEST})`,
      ),
      of: await count(store, `SELECT COUNT(*) AS n FROM swept_tracker WHERE sweep_id IN (${NEWEST})`),
    }),
  },
  {
    id: 'websites.unsorted',
    name: 'Trackers without a purpose',
    definition: 'Trackers in the newest sweep of their site of which nobody has said what they are for.',
    unit: 'tracker',
    good: 'less',
    see: 'websites.read',
    link: '/websites',
    value: async (store) => ({
      value: await count(
        store,
        `SELECT COUNT(*) AS n FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE t.purpose IS NULL AND s.sweep_id IN (${NEWEST})`,
      ),
      of: await count(store, `SELECT COUNT(*) AS n FROM swept_tracker WHERE sweep_id IN (${NEWEST})`),
    }),
  },
  {
    id: 'websites.asking',
    name: 'Sites that ask',
    definition: 'Sites whose notice is in force, of all that are in the program.',
    unit: 'site',
    good: 'more',
    see: 'websites.read',
    link: '/websites',
    value: async (store) => ({
      value: (await ruleCounts(store, [NOTICE.object])).inForce,
      of: await count(store, 'SELECT COUNT(*) AS n FROM site'),
    }),
  },
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
    of: `SELECT COUNT(*) AS n FROM swept_tracker WHERE sweep_id IN (${NEWEST})`,
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
    of: `SELECT COUNT(*) AS n FROM swept_tracker WHERE sweep_id IN (${NEWEST})`,
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
  }),
  {
    id: 'websites.allowing',
    name: 'Visitors who allow something',
    definition: `Choices of the last ${DAYS} days that allowed at least one purpose, of all choices.`,
    unit: '%',
    good: 'neither',
    see: 'consent.read',
    link: '/websites',
    value: async (store, now) => {
      const since = toDatetime(new Date(now.getTime() - DAYS * 86_400_000));
      const all = await count(store, 'SELECT COUNT(*) AS n FROM consent_record WHERE at >= ?', [since]);
      const some = await count(
        store,
        "SELECT COUNT(*) AS n FROM consent_record WHERE at >= ? AND choice <> 'refused all'",
        [since],
      );
      const share = wilson(some, all);
      return { value: share?.share ?? null, of: all, ...(share ? { low: share.low, high: share.high } : {}) };
    },
  },
];
