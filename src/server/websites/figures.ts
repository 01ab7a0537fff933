import { wilson } from '../../core/interval.ts';
import { count } from '../figures/count.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { toDatetime } from '../store/columns.ts';
import { NOTICE } from './notices/notice-kind.ts';

/** The newest sweep of each site that saw a page. */
const NEWEST =
  "SELECT MAX(id) FROM sweep WHERE state IN ('complete', 'cancelled') AND pages > 0 GROUP BY site_id";

const DAYS = 30;

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
