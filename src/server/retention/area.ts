import type { ServerArea } from '../area.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { CLOCK } from './clocks/clocks.ts';
import { readClockColumns } from './clocks/read-columns.ts';
import { windClocks } from './clocks/wind-clocks.ts';
import { endAside } from './disposal/aside.ts';
import { ANY_DISPOSAL_RUN } from './disposal/disposal-run.ts';
import { gatherDue } from './disposal/gather.ts';
import { runAgreed } from './disposal/run-agreed.ts';
import { answerForTheSilent } from './disposal/say.ts';
import { tellAskedOwners } from './disposal/tell-owners.ts';
import { retentionElsewhere } from './retention-elsewhere.ts';
import { RETENTION_FIGURES } from './figures.ts';
import { RETENTION_REPORTS } from './reports.ts';
import { findRetention } from './find-retention.ts';
import { HOLD } from './holds/holds.ts';
import { tellCustodians } from './holds/tell-custodians.ts';
import { RETENTION_POLICY } from './policy.ts';
import { countDays } from './rehearsal/count-days.ts';
import { REASONED_RULE } from './rehearsal/unreasoned.ts';
import { remindOfReviews } from './review/remind-reviews.ts';
import { LAW_BOUND } from './rules/law-bounds.ts';

/** What a rule says of one source it can say of every other. */
const ALL_SOURCES = ['source'];

export const RETENTION: ServerArea = {
  area: 'retention',
  rules: [
    {
      kind: REASONED_RULE as RuleKind<unknown>,
      see: 'retention.read',
      edit: 'retention.edit',
      force: 'retention.put-in-force',
      wholeOf: ALL_SOURCES,
    },
    {
      kind: LAW_BOUND as RuleKind<unknown>,
      see: 'retention.read',
      edit: 'retention.edit',
      force: 'retention.put-in-force',
      wholeOf: ALL_SOURCES,
    },
    {
      kind: HOLD as RuleKind<unknown>,
      see: 'retention.read',
      edit: 'retention.hold',
      force: 'retention.hold',
      wholeOf: ALL_SOURCES,
    },
  ],
  objects: [
    {
      kind: CLOCK as PlainKind<unknown>,
      see: 'retention.read',
      edit: 'retention.edit',
      wholeOf: ALL_SOURCES,
    },
    {
      kind: RETENTION_POLICY as PlainKind<unknown>,
      see: 'retention.read',
      edit: 'retention.put-in-force',
      wholeOf: ALL_SOURCES,
    },
  ],
  runs: [ANY_DISPOSAL_RUN],
  upkeep: [
    { name: 'clocks that a table tells', everyMs: 60_000, work: readClockColumns },
    { name: 'clocks that look at what changed', everyMs: 15_000, work: windClocks },
    { name: 'retention, counted daily', everyMs: 60_000, work: countDays },
    { name: 'disposals of what is due', everyMs: 20_000, work: gatherDue },
    { name: 'owners who are asked', everyMs: 20_000, work: tellAskedOwners },
    { name: 'owners who do not answer', everyMs: 60_000, work: answerForTheSilent },
    { name: 'disposals that were agreed to', everyMs: 10_000, work: runAgreed },
    { name: 'what was put aside', everyMs: 20_000, work: endAside },
    { name: 'reviews of rules', everyMs: 60_000, work: remindOfReviews },
    { name: 'custodians of holds', everyMs: 30_000, work: tellCustodians },
  ],
  elsewhere: retentionElsewhere,
  figures: RETENTION_FIGURES,
  reports: RETENTION_REPORTS,
  checking: [
    {
      ...{ see: 'retention.read', one: 'retention rule', many: 'retention rules' },
      sql: 'SELECT COUNT(DISTINCT IF(day >= DATE(?), rule_id, NULL)) AS n, TIMESTAMP(MAX(day)) AS at FROM retention_day',
    },
  ],
  finders: [{ action: 'retention.read', find: findRetention }],
};
