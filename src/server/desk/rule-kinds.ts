import { notFound } from '../../core/refusal.ts';
import type { AreaRule } from '../area.ts';
import { AREAS } from '../areas.ts';

/** Kinds of rules of all areas, by the word of the ledger. */
export const RULE_KINDS: ReadonlyMap<string, AreaRule> = new Map(
  AREAS.flatMap((a) => a.rules ?? []).map((r) => [r.kind.object, r]),
);

/** Throws a RefusedError (404). */
export function ruleKind(name: string): AreaRule {
  const found = RULE_KINDS.get(name);
  if (!found) throw notFound('kind of rule');
  return found;
}
