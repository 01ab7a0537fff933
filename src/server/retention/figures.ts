import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { ruleFigure } from '../figures/rule-figure.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { toDatetime } from '../store/columns.ts';
import { HOLD } from './holds/holds.ts';
import { RETENTION_RULE } from './rules/retention-rules.ts';

/** Over the day that was counted last. */
const LAST = (field: string) =>
  `SELECT COALESCE(SUM(JSON_VALUE(d.counts, '$.${field}')), 0) AS n FROM retention_day d
   JOIN rule r ON r.kind = 'retention rule' AND r.id = d.rule_id AND r.state = 'in force'
   WHERE d.day = (SELECT MAX(day) FROM retention_day)`;

const EACH_RULE: Each = {
  key: 'r.id',
  name: 'r.name',
  parts: { rule: 'r.name' },
  link: ({ key }) => `/retention/rules/${encodeURIComponent(key)}`,
};
const EACH_DISPOSAL: Each = {
  key: 'd.id',
  name: "CONCAT('Disposal ', d.id, ', ', d.rule_name)",
  parts: { rule: 'd.rule_name' },
  link: ({ key }) => `/retention/disposals/${key}`,
};

const SILENT_DAYS = 14;
const FAILED_DAYS = 90;
const seen = { good: 'less', see: 'retention.read' } as const;

export const RETENTION_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    ...{ id: 'retention.due', name: 'Items past their time', unit: 'item' },
    definition:
      'Items that a retention rule in force has go by now, and no hold keeps; as counted once a day.',
    link: '/retention/rules',
    // Where no rule says anything, nothing can be past its time.
    where: async (store) => (await ruleCounts(store, [RETENTION_RULE.object])).inForce > 0,
    counts: LAST('due'),
    each: EACH_RULE,
  }),
  countFigure({
    ...seen,
    ...{ id: 'retention.held', name: 'Items that holds keep from going', unit: 'item', good: 'neither' },
    definition:
      'Items that a retention rule in force would have go by now if no hold covered them; as counted once a day.',
    link: '/retention/holds',
    counts: LAST('held'),
    each: EACH_RULE,
  }),
  countFigure({
    ...seen,
    ...{ id: 'retention.ruled', name: 'Items with a retention rule', unit: 'item', good: 'more' },
    definition:
      'Items of which a retention rule in force says how long they are kept; as counted once a day.',
    link: '/retention/rules',
    counts: LAST('decides'),
    of: "SELECT COUNT(*) AS n FROM item WHERE state <> 'gone'",
    each: EACH_RULE,
  }),
  ruleFigure({
    ...seen,
    ...{ id: 'retention.rules', name: 'Retention rules in force', good: 'neither' },
    definition: 'Rules that say how long something is kept and what follows, and take effect now.',
    link: '/retention/rules',
    kind: RETENTION_RULE,
  }),
  ruleFigure({
    ...seen,
    ...{ id: 'retention.holds', name: 'Holds in force', unit: 'hold', good: 'neither' },
    definition: 'Holds that keep what they cover, whatever rules say.',
    link: '/retention/holds',
    kind: HOLD,
  }),
  countFigure({
    ...seen,
    ...{ id: 'retention.custodians-silent', name: 'Custodians who do not answer', unit: 'custodian' },
    definition: `Custodians of holds in force who were told ${SILENT_DAYS} days ago or earlier, and did not say that they know.`,
    link: '/retention/holds',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM hold_notice n WHERE n.released_at IS NULL AND n.known_at IS NULL AND n.told_at < ?',
      [toDatetime(daysBefore(now, SILENT_DAYS))],
    ],
    of: 'SELECT COUNT(*) AS n FROM hold_notice WHERE released_at IS NULL AND told_at IS NOT NULL',
    each: {
      key: "CONCAT(n.hold_id, ' ', n.address)",
      name: 'n.address',
      parts: { rule: "(SELECT name FROM rule WHERE kind = 'hold' AND id = n.hold_id)" },
      link: ({ key }) => `/retention/holds/${encodeURIComponent(key.split(' ')[0] ?? '')}`,
    },
  }),
  countFigure({
    ...seen,
    id: 'retention.answers-late',
    name: 'Owners who do not answer',
    definition: 'Disposals whose owner was asked, and whose day to answer is over.',
    unit: 'disposal',
    link: '/retention/disposals',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM disposal d WHERE d.state = 'asked' AND d.answer_by < ?",
      [toDatetime(now)],
    ],
    of: "SELECT COUNT(*) AS n FROM disposal WHERE state = 'asked'",
    each: EACH_DISPOSAL,
  }),
  countFigure({
    ...seen,
    id: 'retention.failed',
    name: 'Items that could not go',
    definition: `Items of disposals that ended in the last ${FAILED_DAYS} days, that were to go and are still there since something failed.`,
    unit: 'item',
    link: '/retention/disposals',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM disposal_item i JOIN disposal d ON d.id = i.disposal_id
       WHERE i.state = 'failed' AND d.state = 'done' AND d.ended_at >= ?`,
      [toDatetime(daysBefore(now, FAILED_DAYS))],
    ],
    of: (now) => [
      `SELECT COUNT(*) AS n FROM disposal_item i JOIN disposal d ON d.id = i.disposal_id
       WHERE i.state <> 'kept' AND d.state = 'done' AND d.ended_at >= ?`,
      [toDatetime(daysBefore(now, FAILED_DAYS))],
    ],
    each: EACH_DISPOSAL,
  }),
  countFigure({
    ...seen,
    id: 'retention.uncertified',
    name: 'Disposals without a certificate',
    definition:
      'Disposals that ended more than a day ago, of which nothing can be put back any more, and that have no certificate of what went.',
    unit: 'disposal',
    link: '/retention/disposals',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM disposal d WHERE d.state = 'done' AND d.certificate IS NULL AND d.ended_at < ? AND NOT EXISTS
         (SELECT 1 FROM disposal_item i WHERE i.disposal_id = d.id AND i.state IN ('waiting', 'begun', 'aside'))`,
      [toDatetime(daysBefore(now, 1))],
    ],
    of: "SELECT COUNT(*) AS n FROM disposal WHERE state = 'done'",
    each: EACH_DISPOSAL,
  }),
  countFigure({
    ...seen,
    id: 'retention.aside-late',
    name: 'Copies kept longer than they may be',
    definition:
      'Items that were put aside when they went, and whose day to be gone for good was more than a day ago.',
    unit: 'item',
    link: '/retention/disposals',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM disposal_item i JOIN disposal d ON d.id = i.disposal_id WHERE i.state = 'aside' AND i.aside_until < ?",
      [toDatetime(daysBefore(now, 1))],
    ],
    of: "SELECT COUNT(*) AS n FROM disposal_item WHERE state = 'aside'",
    each: EACH_DISPOSAL,
  }),
  countFigure({
    ...seen,
    id: 'retention.rules-unreviewed',
    name: 'Retention rules that nobody looked at this year',
    definition:
      'Retention rules in force of whose version in force nobody said in the last 365 days that it stands.',
    unit: 'rule',
    link: '/retention/schedule',
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM rule r WHERE r.kind = 'retention rule' AND r.state = 'in force' AND NOT EXISTS
         (SELECT 1 FROM retention_review v WHERE v.kind = r.kind AND v.rule_id = r.id AND v.answer = 'stands' AND v.at >= ?)
         AND NOT EXISTS (SELECT 1 FROM rule_version n WHERE n.kind = r.kind AND n.id = r.id AND n.made_at >= ?)`,
      [toDatetime(daysBefore(now, 365)), toDatetime(daysBefore(now, 365))],
    ],
    of: "SELECT COUNT(*) AS n FROM rule WHERE kind = 'retention rule' AND state = 'in force'",
    each: EACH_RULE,
  }),
];
