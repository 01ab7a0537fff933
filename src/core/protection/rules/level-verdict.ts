/** A level rule as it is weighed for one item. */
export interface WeighedRule {
  readonly id: string;
  /** The level it sets. */
  readonly level: string;
  /** What it set follows the item: it is lowered or taken off where the rule does not hold any more. */
  readonly keep: boolean;
  /** It sets nothing itself: the owner is asked. */
  readonly proposes?: boolean;
}

/** The level an item has, and how it came to have it. */
export interface PresentLevel {
  readonly level: string;
  /** Somebody chose it, it came with the document, or a rule set it. */
  readonly by: { readonly is: 'hand' | 'document' } | { readonly is: 'rule'; readonly rule: string };
}

/** How strong levels are, by id: the more the stronger. One that is not among them is weaker than all. */
export type Ranks = ReadonlyMap<string, number>;

export type LevelChange = 'none' | 'set' | 'raised' | 'lowered' | 'taken off';

export interface LostRule {
  readonly rule: WeighedRule;
  readonly because:
    | 'a stronger level won'
    | 'another rule sets the same level'
    /** What a person or the document says stands against a rule that is not stronger. */
    | 'the level it has is as strong or stronger';
}

export interface LevelVerdict {
  /** That the item should have; `undefined` for none. */
  readonly level: string | undefined;
  readonly change: LevelChange;
  /** What decided: a rule, or the level that the item has already. */
  readonly by: { readonly is: 'rule'; readonly rule: WeighedRule } | { readonly is: 'kept' | 'nothing' };
  readonly lost: readonly LostRule[];
}

const rankOf = (ranks: Ranks, level: string) => ranks.get(level) ?? -1;

/** The stronger first; of one level by their ids, so that the order never depends on who asks. */
export function strongestFirst<T extends Pick<WeighedRule, 'id' | 'level'>>(
  rules: readonly T[],
  ranks: Ranks,
): readonly T[] {
  return rules.toSorted(
    (a, b) => rankOf(ranks, b.level) - rankOf(ranks, a.level) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0),
  );
}

/** Whether what the item has gives way to whatever rules say now. */
export function follows(present: PresentLevel, rules: readonly WeighedRule[]): boolean {
  const { by } = present;
  return by.is === 'rule' && rules.some((r) => r.id === by.rule && r.keep);
}

/**
 * The level of one item. Of the rules that hold for it the strongest level wins. What somebody chose, or the document
 * brought, stands unless a rule is stronger; so does what a rule set that does not follow the item.
 *
 * @param rules all that are weighed, those that propose never win; `holds` says which of them hold for the item.
 */
export function levelVerdict(
  rules: readonly WeighedRule[],
  holds: (rule: WeighedRule) => boolean,
  present: PresentLevel | undefined,
  ranks: Ranks,
): LevelVerdict {
  const [best, ...others] = strongestFirst(
    rules.filter((r) => !r.proposes && ranks.has(r.level) && holds(r)),
    ranks,
  );
  const lost = others.map((rule): LostRule => ({
    rule,
    because: rule.level === best?.level ? 'another rule sets the same level' : 'a stronger level won',
  }));
  if (present && !follows(present, rules)) {
    const isStronger = best && rankOf(ranks, best.level) > rankOf(ranks, present.level);
    if (!isStronger)
      return {
        level: present.level,
        change: 'none',
        by: { is: 'kept' },
        lost: [
          ...(best ? [{ rule: best, because: 'the level it has is as strong or stronger' } as const] : []),
          ...lost,
        ],
      };
  }
  return {
    level: best?.level,
    change: changeOf(present?.level, best?.level, ranks),
    by: best ? { is: 'rule', rule: best } : { is: 'nothing' },
    lost,
  };
}

function changeOf(from: string | undefined, to: string | undefined, ranks: Ranks): LevelChange {
  if (from === to) return 'none';
  if (from === undefined) return 'set';
  if (to === undefined) return 'taken off';
  return rankOf(ranks, to) > rankOf(ranks, from) ? 'raised' : 'lowered';
}
