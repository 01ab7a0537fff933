import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import {
  keptFor,
  ViewRuleContent,
  viewRuleSentence,
  viewRuleVocabulary,
  type KeptFor,
  type ViewRule,
} from '../../../core/protection/view/view-rule.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { Context } from '../../context.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import { standingRules } from '../../rules/rules-in-force.ts';
import type { Queries } from '../../store/pool.ts';
import { daysKept } from '../activity/activity-kept.ts';
import { withoutAddresses } from '../handling/handling-rules.ts';
import { watchFaults, watchNames } from '../lookouts/lookouts.ts';
import { readPeople } from '../lookouts/people.ts';

/** What is kept in view, by number. */
export const VIEW_RULE: RuleKind<ViewRuleContent> = {
  object: 'view rule',
  content: ViewRuleContent,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/activity/${encodeURIComponent(String(id))}`,
  text: async (store, _id, content) => sentenceText(viewRuleSentence(await watchNames(store)), content),
  vocabulary: async (store) => viewRuleVocabulary(await watchNames(store)),
  // Addresses of people are personal; the ledger tells that they were changed.
  redact: withoutAddresses,
  removed: () => Promise.resolve(),
  blocks: (store, _id, { watch }) => watchFaults(store, watch),
};

export interface ListedViewRule {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly days: number;
}

/** By name. */
export async function listViewRules(store: Queries): Promise<readonly ListedViewRule[]> {
  return (await listRules(store, VIEW_RULE)).map(({ content, ...rest }) => ({ ...rest, days: content.days }));
}

/** Adds one as a draft; its id. */
export function addViewRule(
  tx: Queries,
  now: Date,
  by: number | null,
  content: ViewRuleContent,
): Promise<string> {
  return addNumberedRule(tx, now, VIEW_RULE, by, content);
}

export function viewRulesInForce(store: Queries): Promise<readonly ViewRule[]> {
  return standingRules(store, VIEW_RULE);
}

/** What is kept in view now. */
export interface View {
  keptFor(event: ActivityEvent): KeptFor;
  /** What the rule that keeps the longest says, in days; 0 without any. */
  readonly longest: number;
}

/** People are looked up only where a rule is there at all. */
export async function readView(ctx: Context): Promise<View> {
  const [rules, byKind] = await Promise.all([viewRulesInForce(ctx.store), daysKept(ctx.store)]);
  if (rules.length === 0)
    return {
      keptFor: ({ kind }) => ({ days: byKind[kind], by: undefined, others: [] }),
      longest: 0,
    };
  const situationOf = await readPeople(ctx);
  return {
    keptFor: (event) => keptFor(event, situationOf(event), rules, byKind),
    longest: Math.max(...rules.map((r) => r.content.days)),
  };
}
