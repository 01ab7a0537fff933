import { ViewOutlook, type ViewFigures } from '../../../core/protection/view/view-outlook.ts';
import type { Context } from '../../context.ts';
import { readRule } from '../../rules/rule-store.ts';
import { daysKept } from '../activity/activity-kept.ts';
import { eventsSince } from '../activity/event-store.ts';
import { lookoutsInForce } from '../lookouts/lookouts.ts';
import { readPeople } from '../lookouts/people.ts';
import { watchedOnly } from '../lookouts/watch-events.ts';
import { listViewRules, VIEW_RULE, viewRulesInForce } from './view-rules.ts';

export interface ViewRuleOutlook extends ViewFigures {
  readonly spanDays: number;
  /** Names of the other rules by their ids. */
  readonly names: Readonly<Record<string, string>>;
}

/** What the draft of a rule would change about what is kept, by the acts of the last days. */
export async function viewRuleOutlook(ctx: Context, id: string, days: number): Promise<ViewRuleOutlook> {
  const [{ content }, others, byKind, lookouts, situationOf, all] = await Promise.all([
    readRule(ctx.store, VIEW_RULE, id),
    viewRulesInForce(ctx.store),
    daysKept(ctx.store),
    lookoutsInForce(ctx.store),
    readPeople(ctx),
    listViewRules(ctx.store),
  ]);
  const outlook = new ViewOutlook(
    { id, content },
    others.filter((r) => r.id !== id),
    byKind,
    lookouts,
  );
  const since = new Date(ctx.now().getTime() - days * 86_400_000);
  for await (const events of eventsSince(ctx.store, since, ctx.now(), watchedOnly(content.watch)))
    for (const { event } of events) outlook.add(event, situationOf(event));
  return { ...outlook.figures(), spanDays: days, names: Object.fromEntries(all.map((r) => [r.id, r.name])) };
}
