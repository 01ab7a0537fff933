import type { Decision, WeighedHandling } from './decision.ts';
import type { Keeping } from './handling-rule.ts';
import type { Motion } from './motion.ts';

/** What is kept of an act, for which rule; the longest that any of them asks for. */
export interface Kept {
  readonly what: 'copy' | 'quarantine';
  readonly rule: string;
  readonly days: number;
}

/**
 * What is kept of what somebody put in motion: a copy where a rule that holds wants one; the file itself where the rule that
 * stopped it moves it away. What is moved away is no copy besides.
 */
export function keptOf(
  decision: Decision,
  motion: Motion,
  rules: readonly WeighedHandling[],
): Kept | undefined {
  const held = decision.weighed.flatMap((w) => {
    const rule = w.wants && rules.find((r) => r.id === w.rule);
    return rule ? [{ id: rule.id, wants: w.wants, keeps: rule.content.keeps }] : [];
  });
  const longest = (all: readonly { readonly id: string; readonly keeps: Keeping }[]) =>
    all.toSorted((a, b) => b.keeps.days - a.keeps.days)[0];
  // A piece of text lies nowhere that it could be moved from.
  const moved =
    decision.outcome === 'stop' && motion.item.name !== ''
      ? longest(held.filter((h) => h.wants === 'stop' && h.keeps.quarantine))
      : undefined;
  if (moved) return { what: 'quarantine', rule: moved.id, days: moved.keeps.days };
  const copied = longest(held.filter((h) => h.keeps.copy));
  return copied && { what: 'copy', rule: copied.id, days: copied.keeps.days };
}
