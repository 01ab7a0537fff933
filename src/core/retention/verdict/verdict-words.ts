import { dayText } from '../../text/day.ts';
import { THEN, type LostBecause, type RetentionVerdict } from './retention-verdict.ts';

/** How rules, bounds and holds are called, by id. */
export interface RetentionNames {
  rule(id: string): string;
  bound(id: string): string;
  hold(id: string): string;
}

/** When an item may go, what decided, and what gave way, in sentences. */
export function retentionWords(v: RetentionVerdict, names: RetentionNames): readonly string[] {
  return [...held(), ...decided(), ...moved(), ...crossed(), ...v.lost.map(gaveWay)];

  function held(): readonly string[] {
    return v.holds.map((h) => `It stays, as “${names.hold(h)}” covers it, whatever else is said.`);
  }

  function decided(): readonly string[] {
    const isHeld = v.state === 'held';
    const by = v.by === undefined ? 'no rule is about it' : `“${names.rule(v.by)}” decides`;
    if (v.isAnonymous && v.ends === null)
      return [
        `${isHeld ? 'Without the hold it would be' : 'It is'} kept: ${by}, would make it anonymous, and there is nothing personal in it.`,
      ];
    if (v.ends === null || v.goes === null)
      return [
        `${isHeld ? 'Without the hold it would be' : 'It is'} kept for good, or until its clock begins: ${by}.`,
      ];
    if (v.then === 'nothing') return [`It is kept: ${by}, and does nothing.`];
    const goes = dayText(v.goes);
    const when = isHeld
      ? `Without the hold it would go from ${goes} on`
      : v.state === 'due'
        ? `It may go since ${goes}`
        : `It goes from ${goes} on`;
    return [`${when}: ${by}. Then: ${THEN[v.then]}.`];
  }

  function moved(): readonly string[] {
    if (v.movedBy === undefined || v.ends === null) return [];
    const from = v.ruleEnds === null ? '' : ` The rule alone would end on ${dayText(v.ruleEnds)}.`;
    return [`“${names.bound(v.movedBy)}” has it end on ${dayText(v.ends)}.${from}`];
  }

  function crossed(): readonly string[] {
    return v.conflict === undefined
      ? []
      : [
          `“${names.bound(v.conflict.minimum)}” asks to keep it longer than “${names.bound(v.conflict.maximum)}” lets: the minimum counts.`,
        ];
  }

  function gaveWay({ rule, because }: { readonly rule: string; readonly because: LostBecause }): string {
    const name = `“${names.rule(rule)}”`;
    switch (because) {
      case 'less specific':
        return `${name} is less specific, and gives way.`;
      case 'ordered behind':
        return `${name} was put behind it.`;
      case 'ends later':
        return `${name} is as specific and ends later; as it holds personal data, the one that ends first counts (Art. 5(1)(e) GDPR).`;
      case 'ends earlier':
        return `${name} is as specific and ends earlier; as it holds no personal data, the one that ends last counts.`;
      case 'says the same':
        return `${name} says the same.`;
    }
  }
}
