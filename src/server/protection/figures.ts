import { count } from '../figures/count.ts';
import { countFigure, daysBefore } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { toDatetime } from '../store/columns.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';

const HELD = "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'";
const levelled = (more = '') =>
  `SELECT COUNT(*) AS n FROM item_level l JOIN item i ON i.id = l.item_id WHERE i.state <> 'gone'${more}`;

const LEVELLED_BY_HAND = levelled(" AND l.set_by = 'hand'");
const WAITING_DAYS = 14;
const seen = { good: 'less', see: 'protection.read' } as const;

export const PROTECTION_FIGURES: readonly Figure[] = [
  {
    id: 'protection.levelled',
    name: 'Items with a level',
    definition: 'Items that have a classification level, by hand, by rule or because the document says so.',
    unit: 'item',
    good: 'more',
    see: 'protection.read',
    link: '/protection/levels',
    value: async (store) => ({ value: await count(store, levelled()), of: await count(store, HELD) }),
  },
  {
    id: 'protection.stamped',
    name: 'Documents that say their level',
    definition: 'Of the items that have a level, those whose document carries its marking.',
    unit: 'document',
    good: 'more',
    see: 'protection.read',
    link: '/protection/levels',
    value: async (store) => ({
      value: await count(store, levelled(' AND l.unstamped IS NULL')),
      of: await count(store, levelled()),
    }),
  },
  {
    id: 'protection.lost',
    name: 'Documents that lost their marking',
    definition: 'Documents that were stamped, and say no level or a weaker one since.',
    unit: 'document',
    good: 'less',
    see: 'protection.read',
    link: '/protection/rules',
    value: async (store) => ({
      value: await count(store, levelled(' AND l.lost = 1')),
      of: await count(store, levelled()),
    }),
  },
  {
    id: 'protection.rules',
    name: 'Level rules in force',
    definition: 'Rules that set a level where a lens holds, and take effect now.',
    unit: 'rule',
    good: 'neither',
    see: 'protection.read',
    link: '/protection/rules',
    value: async (store) => ({ value: (await ruleCounts(store, [LEVEL_RULE.object])).inForce }),
  },
  countFigure({
    ...{ good: 'less', see: 'protection.alerts', id: 'protection.alerts-open', name: 'Open alerts' },
    definition: 'Alerts that were neither solved nor set aside, of all that were raised in 90 days.',
    unit: 'alert',
    link: '/protection/alerts?open=open',
    counts: "SELECT COUNT(*) AS n FROM alert WHERE state IN ('new', 'looked into')",
    of: 'SELECT COUNT(*) AS n FROM alert WHERE raised_at > NOW() - INTERVAL 90 DAY',
  }),
  countFigure({
    ...{ good: 'less', see: 'protection.alerts', id: 'protection.alerts-late' },
    name: 'Grave alerts nobody looks into',
    definition: 'Alerts of high severity that were raised more than a day ago and are still new.',
    unit: 'alert',
    link: '/protection/alerts?state=new&severity=high',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM alert WHERE state = 'new' AND severity = 'high' AND raised_at < ?",
      [toDatetime(daysBefore(now, 1))],
    ],
    of: "SELECT COUNT(*) AS n FROM alert WHERE state = 'new' AND severity = 'high'",
  }),
  countFigure({
    ...{ good: 'less', see: 'protection.activity', id: 'protection.false-alarms', name: 'False alarms' },
    definition:
      'Acts that people called false alarms, of those at which they were asked or stopped, in 30 days.',
    unit: 'act',
    link: '/protection/handling/use',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM activity_event WHERE answer = 'false alarm' AND at > ?",
      [toDatetime(daysBefore(now, 30))],
    ],
    of: "SELECT COUNT(*) AS n FROM activity_event WHERE outcome IN ('ask', 'stop') AND at > NOW() - INTERVAL 30 DAY",
  }),
  countFigure({
    ...seen,
    id: 'protection.proposals-waiting',
    name: 'Proposals that nobody answers',
    definition: `Levels that a rule proposed more than ${WAITING_DAYS} days ago, and that nobody agreed to or declined.`,
    unit: 'proposal',
    link: '/protection',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM level_proposal WHERE state = 'open' AND made_at < ?",
      [toDatetime(daysBefore(now, WAITING_DAYS))],
    ],
    of: "SELECT COUNT(*) AS n FROM level_proposal WHERE state = 'open'",
  }),
  countFigure({
    ...seen,
    id: 'protection.by-hand-unsaid',
    name: 'Levels set by hand without a reason',
    definition: 'Items whose level somebody set by hand without saying why, of all that were set so.',
    unit: 'item',
    link: '/protection',
    counts: `${LEVELLED_BY_HAND} AND l.reason = ''`,
    of: LEVELLED_BY_HAND,
  }),
  countFigure({
    ...seen,
    id: 'protection.copies-late',
    name: 'Copies kept longer than they are for',
    definition: 'Copies of documents from before they were stamped, whose day to go was more than a day ago.',
    unit: 'copy',
    link: '/protection',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM kept_copy WHERE keep_until < ?',
      [toDatetime(daysBefore(now, 1))],
    ],
    of: 'SELECT COUNT(*) AS n FROM kept_copy',
  }),
];
