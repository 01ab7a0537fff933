import type { FactsOf, LensVocabulary } from './fact.ts';
import { daysOf, isDayClause } from './lens-day.ts';
import { lensFaults } from './lens-faults.ts';
import { isClause, type Clause, type Lens } from './lens.ts';

/** Why an item is in a lens or not: each condition with what the item has, and whether that meets it. */
export type Explained =
  | { readonly holds: boolean; readonly clause: Clause; readonly found: string }
  | { readonly holds: boolean; readonly join: 'all' | 'any' | 'not'; readonly of: readonly Explained[] };

/** Whether an item is in a lens that has no fault, asked on a day in ISO 8601. */
export function holds(lens: Lens, facts: FactsOf, today: string): boolean {
  if (isClause(lens)) return meets(lens, facts, today);
  if ('not' in lens) return !holds(lens.not, facts, today);
  return 'all' in lens
    ? lens.all.every((l) => holds(l, facts, today))
    : lens.any.some((l) => holds(l, facts, today));
}

/** Whether an item is in a lens; never where the lens names something that is gone. */
export function inLens(lens: Lens, facts: FactsOf, today: string, vocabulary: LensVocabulary): boolean {
  return lensFaults(lens, vocabulary).length === 0 && holds(lens, facts, today);
}

/** The same, with why. Every condition is told, also those that did not decide. */
export function explainLens(lens: Lens, facts: FactsOf, today: string): Explained {
  if (isClause(lens))
    return { holds: meets(lens, facts, today), clause: lens, found: foundWords(facts(lens.fact)) };
  const [join, parts] =
    'not' in lens
      ? (['not', [lens.not]] as const)
      : 'all' in lens
        ? (['all', lens.all] as const)
        : (['any', lens.any] as const);
  return {
    holds: holds(lens, facts, today),
    join,
    of: parts.map((l) => explainLens(l, facts, today)),
  };
}

function foundWords(value: ReturnType<FactsOf>): string {
  if (value === undefined) return 'not known';
  return typeof value === 'string' || typeof value === 'number' ? String(value) : value.join(', ') || 'none';
}

/** Whether a place is another, or below it: `share/a` holds `share/a/b`, never `share/ab`. */
export function isWithin(place: string, above: string): boolean {
  return place === above || (place.startsWith(above) && (above.endsWith('/') || place[above.length] === '/'));
}

function meets(clause: Clause, facts: FactsOf, today: string): boolean {
  const value = facts(clause.fact);
  if (clause.is === 'unknown') return value === undefined;
  if (value === undefined) return false;
  if (isDayClause(clause)) {
    if (typeof value !== 'string') return false;
    const { from, to } = daysOf(clause, today);
    const day = value.slice(0, 10);
    return (from === undefined || day >= from) && (to === undefined || day < to);
  }
  const texts = typeof value === 'number' ? [] : typeof value === 'string' ? [value] : value;
  switch (clause.is) {
    case 'one of':
      return texts.some((t) => clause.values.includes(t));
    case 'at least':
      return typeof value === 'number' && value >= clause.number;
    case 'at most':
      return typeof value === 'number' && value <= clause.number;
    case 'in':
      return texts.some((t) => isWithin(t, clause.place));
    case 'holding':
      return texts.some((t) => t.toLowerCase().includes(clause.text.toLowerCase()));
  }
}
