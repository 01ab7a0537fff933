import type { ServerArea } from '../area.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { endOldEvents } from './activity/activity-kept.ts';
import { tellOfTheDesk } from './activity/desk-feed.ts';
import { tellOfAlerts } from './alerts/tell-alerts.ts';
import { renewBundle } from './devices/bundles.ts';
import { DEVICE_GROUP } from './devices/device-groups.ts';
import { endEvidence } from './evidence/evidence.ts';
import { PROTECTION_FIGURES } from './figures.ts';
import { PROTECTION_REPORTS } from './reports.ts';
import { openIntake } from './intake/open-intake.ts';
import { findLookouts, findProtection, findViewRules } from './find-protection.ts';
import { HANDLING_RULE } from './handling/handling-rules.ts';
import { NAMED_GROUP } from './handling/named-groups.ts';
import { findLostMarkings } from './levels/lost-markings.ts';
import { LEVEL } from './levels/levels.ts';
import { makeProposals } from './proposals/make-proposals.ts';
import { addBuiltIn, LOOKOUT } from './lookouts/lookouts.ts';
import { VIEW_RULE } from './view/view-rules.ts';
import { forgetSeen, watchNewEvents } from './lookouts/watch-events.ts';
import { PUBLICATION } from './publishing/publications.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';
import { LEVEL_POLICY, setLevelsByThemselves } from './runs/level-policy.ts';
import { ANY_LEVEL_RUN } from './runs/level-run.ts';
import { ANY_LEVEL_UNDO } from './runs/level-undo.ts';

export const PROTECTION: ServerArea = {
  area: 'protection',
  begin: addBuiltIn,
  intake: openIntake,
  rules: [
    {
      kind: LEVEL as RuleKind<unknown>,
      see: 'protection.read',
      edit: 'protection.edit',
      force: 'protection.put-in-force',
    },
    {
      kind: LEVEL_RULE as RuleKind<unknown>,
      see: 'protection.read',
      edit: 'protection.edit',
      force: 'protection.put-in-force',
    },
    {
      kind: HANDLING_RULE as RuleKind<unknown>,
      see: 'protection.read',
      edit: 'protection.edit',
      force: 'protection.put-in-force',
    },
    {
      kind: VIEW_RULE as RuleKind<unknown>,
      see: 'protection.activity',
      edit: 'protection.watch',
      force: 'protection.watch',
    },
    {
      kind: LOOKOUT as RuleKind<unknown>,
      see: 'protection.alerts',
      edit: 'protection.watch',
      force: 'protection.watch',
    },
    {
      kind: PUBLICATION as RuleKind<unknown>,
      see: 'protection.read',
      edit: 'protection.edit',
      force: 'protection.put-in-force',
    },
  ],
  objects: [
    { kind: NAMED_GROUP as PlainKind<unknown>, see: 'protection.read', edit: 'protection.edit' },
    { kind: DEVICE_GROUP as PlainKind<unknown>, see: 'protection.read', edit: 'protection.devices' },
    { kind: LEVEL_POLICY as PlainKind<unknown>, see: 'protection.read', edit: 'protection.put-in-force' },
  ],
  runs: [ANY_LEVEL_RUN, ANY_LEVEL_UNDO],
  upkeep: [
    { name: 'levels that are set by themselves', everyMs: 15_000, work: setLevelsByThemselves },
    { name: 'levels that are proposed to owners', everyMs: 15_000, work: makeProposals },
    { name: 'rules that devices take', everyMs: 5000, work: renewBundle },
    { name: 'activity that is kept no longer', everyMs: 3_600_000, work: endOldEvents },
    { name: 'activity of the desk itself', everyMs: 5000, work: tellOfTheDesk },
    { name: 'lookouts', everyMs: 2000, work: watchNewEvents },
    { name: 'who is told of alerts', everyMs: 5000, work: tellOfAlerts },
    { name: 'what was kept of data in motion', everyMs: 60_000, work: endEvidence },
    { name: 'what lookouts need not remember', everyMs: 3_600_000, work: forgetSeen },
    { name: 'markings that were lost', everyMs: 20_000, work: findLostMarkings },
  ],
  figures: PROTECTION_FIGURES,
  reports: PROTECTION_REPORTS,
  checking: [
    {
      ...{ see: 'protection.read', one: 'device', many: 'devices' },
      sql: 'SELECT COUNT(IF(seen_at > ?, 1, NULL)) AS n, MAX(seen_at) AS at FROM device WHERE ended_at IS NULL',
    },
  ],
  finders: [
    { action: 'protection.read', find: findProtection },
    { action: 'protection.alerts', find: findLookouts },
    { action: 'protection.activity', find: findViewRules },
  ],
};
