import { Bitmap } from '../../lens/bitmap.ts';
import { follows, strongestFirst, type PresentLevel, type Ranks, type WeighedRule } from './level-verdict.ts';

/** A rule with the items that it holds for. */
export interface RuleSet {
  readonly rule: WeighedRule;
  readonly items: Bitmap;
}

/** Items that have a level in the same way. */
export interface PresentSet {
  readonly present: PresentLevel;
  readonly items: Bitmap;
}

/** What one rule comes to among the others, by items. */
export interface RuleOutcome {
  readonly rule: WeighedRule;
  /** It holds, and no stronger one does. */
  readonly wins: Bitmap;
  /** It holds, and another rule decides. */
  readonly beaten: Bitmap;
  readonly set: Bitmap;
  readonly raised: Bitmap;
  readonly lowered: Bitmap;
  /** It would win, and what the item has stands against it: somebody chose it, or it came with the document. */
  readonly stands: Bitmap;
}

export interface LevelPlan {
  /** The strongest first. */
  readonly rules: readonly RuleOutcome[];
  /** A rule had set it that does not hold any more. */
  readonly takenOff: Bitmap;
}

/** The same as `levelVerdict` for all items at once. */
export function levelPlan(
  rules: readonly RuleSet[],
  presents: readonly PresentSet[],
  ranks: Ranks,
): LevelPlan {
  const weighed = rules.map((r) => r.rule);
  const known = presents.map((p) => ({
    ...p,
    rank: ranks.get(p.present.level) ?? -1,
    follows: follows(p.present, weighed),
  }));
  const levelled = Bitmap.union(known.map((p) => p.items));
  let claimed = Bitmap.EMPTY;
  const outcomes: RuleOutcome[] = [];
  const ordered = strongestFirst(
    rules.filter((r) => !r.rule.proposes && ranks.has(r.rule.level)).map((r) => ({ ...r, ...r.rule })),
    ranks,
  );
  for (const { rule, items } of ordered) {
    const wins = items.without(claimed);
    const rank = ranks.get(rule.level) ?? -1;
    const ofThose = (which: (p: (typeof known)[number]) => boolean) =>
      wins.and(Bitmap.union(known.filter(which).map((p) => p.items)));
    outcomes.push({
      rule,
      wins,
      beaten: items.and(claimed),
      set: wins.without(levelled),
      raised: ofThose((p) => p.rank < rank),
      lowered: ofThose((p) => p.follows && p.rank > rank),
      stands: ofThose((p) => !p.follows && p.rank >= rank),
    });
    claimed = claimed.or(items);
  }
  const following = Bitmap.union(known.filter((p) => p.follows).map((p) => p.items));
  return { rules: outcomes, takenOff: following.without(claimed) };
}

/** Every item whose level changes. */
export function changedBy({ rules, takenOff }: LevelPlan): Bitmap {
  return Bitmap.union([takenOff, ...rules.flatMap((r) => [r.set, r.raised, r.lowered])]);
}
