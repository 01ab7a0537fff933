import { Bitmap } from '../../lens/bitmap.ts';
import { changedBy, type LevelPlan, type PresentSet, type RuleSet } from './level-plan.ts';
import {
  levelVerdict,
  strongestFirst,
  type PresentLevel,
  type Ranks,
  type WeighedRule,
} from './level-verdict.ts';

/** A level that is proposed to the owner of an item, and the one it would have without. */
export interface LevelProposal {
  readonly rule: WeighedRule;
  readonly over: string | undefined;
}

/**
 * What is proposed for one item: the strongest level of the rules that propose and hold, where it is stronger than what
 * the item has or the other rules set, and its owner has not said no to that rule.
 */
export function levelProposal(
  rules: readonly WeighedRule[],
  holds: (rule: WeighedRule) => boolean,
  present: PresentLevel | undefined,
  ranks: Ranks,
  declined: ReadonlySet<string>,
): LevelProposal | undefined {
  const { level: over } = levelVerdict(rules, holds, present, ranks);
  const rank = (level: string | undefined) => (level === undefined ? -1 : (ranks.get(level) ?? -1));
  const [rule] = strongestFirst(
    rules.filter((r) => r.proposes && ranks.has(r.level) && !declined.has(r.id) && holds(r)),
    ranks,
  );
  return rule && rank(rule.level) > rank(over) ? { rule, over } : undefined;
}

/** The same for all items at once: what each rule proposes. `declined` is by the id of a rule. */
export function levelProposals(
  rules: readonly RuleSet[],
  plan: LevelPlan,
  presents: readonly PresentSet[],
  ranks: Ranks,
  declined: ReadonlyMap<string, Bitmap>,
): readonly RuleSet[] {
  const rank = (level: string) => ranks.get(level) ?? -1;
  const changed = changedBy(plan);
  /** Items that will have a level as strong as this, whatever is proposed. */
  const haveAtLeast = (least: number) =>
    Bitmap.union([
      ...plan.rules.filter((o) => rank(o.rule.level) >= least).flatMap((o) => [o.set, o.raised, o.lowered]),
      ...presents.filter((p) => rank(p.present.level) >= least).map((p) => p.items.without(changed)),
    ]);
  let claimed = Bitmap.EMPTY;
  return strongestFirst(
    rules.filter((r) => r.rule.proposes && ranks.has(r.rule.level)).map((r) => ({ ...r, ...r.rule })),
    ranks,
  ).map(({ rule, items }) => {
    const asked = items.without(declined.get(rule.id) ?? Bitmap.EMPTY);
    const mine = asked.without(claimed);
    claimed = claimed.or(asked);
    return { rule, items: mine.without(haveAtLeast(rank(rule.level))) };
  });
}
