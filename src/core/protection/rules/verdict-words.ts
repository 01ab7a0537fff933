import type { LevelVerdict, PresentLevel } from './level-verdict.ts';

/** How levels and rules are called, by id. */
export interface VerdictNames {
  level(id: string): string;
  rule(id: string): string;
  /** What a rule asks for, as a sentence goes on after “because”. */
  condition(rule: string): string;
}

/** Why an item has the level it should have, and what gave way, in sentences. */
export function verdictWords(
  { level, change, by, lost }: LevelVerdict,
  present: PresentLevel | undefined,
  names: VerdictNames,
): readonly string[] {
  const called = level === undefined ? 'No level' : names.level(level);
  return [
    ...decided(),
    ...lost.map(({ rule, because }) => {
      const of = `${names.level(rule.level)} by “${names.rule(rule.id)}”`;
      switch (because) {
        case 'a stronger level won':
          return `${of} is weaker and loses.`;
        case 'another rule sets the same level':
          return `“${names.rule(rule.id)}” says the same.`;
        case 'the level it has is as strong or stronger':
          return `${of} is not stronger, and leaves it.`;
      }
    }),
  ];

  function decided(): readonly string[] {
    switch (by.is) {
      case 'rule': {
        const why = `${called} by “${names.rule(by.rule.id)}”, because ${names.condition(by.rule.id)}.`;
        const from = present === undefined ? '' : names.level(present.level);
        return change === 'raised' || change === 'lowered'
          ? [why, `It is ${change} from ${from}.`]
          : change === 'none'
            ? [why, 'It has that level.']
            : [why];
      }
      case 'kept':
        return [`${called}, as ${keptBy()}.`];
      case 'nothing':
        return change === 'taken off' && present
          ? [`No rule holds for it any more: ${names.level(present.level)} is taken off.`]
          : ['No rule holds for it, and nobody chose a level.'];
    }
  }

  function keptBy(): string {
    switch (present?.by.is) {
      case 'document':
        return 'the document says itself';
      case 'rule':
        return `“${names.rule(present.by.rule)}” set it`;
      default:
        return 'somebody chose by hand';
    }
  }
}

/** As `item_level` and lenses have it. */
export function setByText(by: PresentLevel['by']): string {
  return by.is === 'rule' ? `rule:${by.rule}` : by.is;
}

export function readSetBy(text: string): PresentLevel['by'] {
  if (text.startsWith('rule:')) return { is: 'rule', rule: text.slice(5) };
  return { is: text === 'document' ? 'document' : 'hand' };
}
