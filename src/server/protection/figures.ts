import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleFigure } from '../figures/rule-figure.ts';
import { EACH_SOURCE_OF_ITEMS } from '../holdings/offers.ts';
import { toDatetime } from '../store/columns.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';

const HELD = "SELECT COUNT(*) AS n FROM item i WHERE i.state <> 'gone'";
const EACH_ITEM: Each = {
  key: 'i.id',
  name: 'i.title',
  parts: { source: '(SELECT name FROM source WHERE id = i.source_id)' },
  link: ({ key }) => `/holdings/items/${key}`,
};
const EACH_ALERT: Each = {
  key: 'id',
  name: "CONCAT('Alert ', id, ', ', category)",
  parts: { kind: 'category', rule: 'lookout' },
  link: ({ key }) => `/protection/alerts/${key}`,
};
const levelled = (more = '') =>
  `SELECT COUNT(*) AS n FROM item_level l JOIN item i ON i.id = l.item_id WHERE i.state <> 'gone'${more}`;

const LEVELLED_BY_HAND = levelled(" AND l.set_by = 'hand'");
const WAITING_DAYS = 14;
const seen = { good: 'less', see: 'protection.read' } as const;

export const PROTECTION_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    ...{ id: 'protection.levelled', name: 'Items with a level', unit: 'item', good: 'more', asShare: true },
    definition: 'Items that have a classification level, by hand, by rule or because the document says so.',
    link: '/protection/levels',
    counts: levelled(),
    of: HELD,
    each: EACH_SOURCE_OF_ITEMS,
  }),
  countFigure({
    ...seen,
    ...{ id: 'protection.stamped', name: 'Documents that say their level', unit: 'document' },
    ...{ good: 'more', asShare: true },
    definition: 'Of the items that have a level, those whose document carries its marking.',
    link: '/protection/levels',
    counts: levelled(' AND l.unstamped IS NULL'),
    of: levelled(),
    each: EACH_SOURCE_OF_ITEMS,
  }),
  countFigure({
    ...seen,
    ...{ id: 'protection.lost', name: 'Documents that lost their marking', unit: 'document' },
    definition: 'Documents that were stamped, and say no level or a weaker one since.',
    link: '/protection/rules',
    counts: levelled(' AND l.lost = 1'),
    of: levelled(),
    each: EACH_ITEM,
  }),
  ruleFigure({
    ...seen,
    ...{ id: 'protection.rules', name: 'Level rules in force', good: 'neither' },
    definition: 'Rules that set a level where a lens holds, and take effect now.',
    link: '/protection/rules',
    kind: LEVEL_RULE,
  }),
  countFigure({
    ...{ good: 'less', see: 'protection.alerts', id: 'protection.alerts-open', name: 'Open alerts' },
    definition: 'Alerts that were neither solved nor set aside, of all that were raised in 90 days.',
    unit: 'alert',
    link: '/protection/alerts?open=open',
    counts: "SELECT COUNT(*) AS n FROM alert WHERE state IN ('new', 'looked into')",
    of: 'SELECT COUNT(*) AS n FROM alert WHERE raised_at > NOW() - INTERVAL 90 DAY',
    each: EACH_ALERT,
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
    each: EACH_ALERT,
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
    each: {
      key: 'rule_id',
      name: 'rule_id',
      parts: { rule: 'rule_id' },
      link: () => '/protection/handling/use',
    },
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
    each: {
      key: 'rule_id',
      name: "(SELECT name FROM rule WHERE kind = 'level rule' AND id = rule_id)",
      parts: { rule: 'rule_id' },
      link: ({ key }) => `/protection/rules/${encodeURIComponent(key)}`,
    },
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
    each: EACH_ITEM,
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
    each: { key: 'id', name: "CONCAT('Copy of ', made_at)" },
  }),
];
