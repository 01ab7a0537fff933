import { Bitmap } from './bitmap.ts';
import type { FactValue } from './fact.ts';
import { daysOf, isDayClause } from './lens-day.ts';
import { isWithin } from './lens-item.ts';
import { isClause, type Clause, type Lens } from './lens.ts';

/** Which items have which value of one fact, over all items. */
export interface FactIndex {
  /** Those of which it is known. */
  readonly known: Bitmap;
  /** By value, in order of the values. */
  readonly byValue: readonly (readonly [string | number, Bitmap])[];
}

/** All items, and what is known of them, as sets. */
export interface LensIndex {
  readonly all: Bitmap;
  fact(id: string): FactIndex | undefined;
}

/** The items in a lens that has no fault, asked on a day in ISO 8601; the same that `holds` finds one by one. */
export function lensSet(lens: Lens, index: LensIndex, today: string): Bitmap {
  if (isClause(lens)) return clauseSet(lens, index, today);
  if ('not' in lens) return index.all.without(lensSet(lens.not, index, today));
  if ('any' in lens) return unite(lens.any.map((l) => lensSet(l, index, today)));
  // The smallest first, so that the rest have little left to look through; once nothing is left, nothing is looked at.
  const sets = lens.all.map((l) => lensSet(l, index, today)).sort((a, b) => a.size - b.size);
  return sets.reduce((left, set) => (left.size === 0 ? left : left.and(set)), sets[0] ?? index.all);
}

function clauseSet(clause: Clause, index: LensIndex, today: string): Bitmap {
  const fact = index.fact(clause.fact);
  if (clause.is === 'unknown') return fact ? index.all.without(fact.known) : index.all;
  if (!fact) return Bitmap.EMPTY;
  return unite(fact.byValue.filter(([value]) => valueMeets(clause, value, today)).map(([, set]) => set));
}

function valueMeets(
  clause: Exclude<Clause, { is: 'unknown' }>,
  value: string | number,
  today: string,
): boolean {
  if (typeof value === 'number')
    return (
      (clause.is === 'at least' && value >= clause.number) ||
      (clause.is === 'at most' && value <= clause.number)
    );
  if (isDayClause(clause)) {
    const { from, to } = daysOf(clause, today);
    const day = value.slice(0, 10);
    return (from === undefined || day >= from) && (to === undefined || day < to);
  }
  switch (clause.is) {
    case 'one of':
      return clause.values.includes(value);
    case 'in':
      return isWithin(value, clause.place);
    case 'holding':
      return value.toLowerCase().includes(clause.text.toLowerCase());
    case 'at least':
    case 'at most':
      return false;
  }
}

/** Two at a time, so that none is copied more often than it must. */
function unite(sets: readonly Bitmap[]): Bitmap {
  if (sets.length <= 1) return sets[0] ?? Bitmap.EMPTY;
  const next: Bitmap[] = [];
  for (let i = 0; i < sets.length; i += 2) {
    const [a, b] = [sets[i] as Bitmap, sets[i + 1]];
    next.push(b ? a.or(b) : a);
  }
  return unite(next);
}

/** An index made from items one by one: their numbers, and the values of each fact. */
export class IndexBuilder {
  readonly #facts = new Map<string, Map<string | number, number[]>>();
  #end = 0;

  /** `number`: from 0, without gaps in the end. */
  add(number: number, facts: Iterable<readonly [string, FactValue]>): void {
    this.#end = Math.max(this.#end, number + 1);
    for (const [fact, value] of facts) {
      if (value === undefined) continue;
      const values = this.#facts.get(fact) ?? new Map<string | number, number[]>();
      this.#facts.set(fact, values);
      const all = typeof value === 'string' || typeof value === 'number' ? [value] : value;
      // What is known to be none is known.
      for (const v of all.length > 0 ? all : [NONE]) {
        const numbers = values.get(v) ?? [];
        values.set(v, numbers);
        numbers.push(number);
      }
    }
  }

  done(): LensIndex {
    const facts = new Map(
      [...this.#facts].map(([id, values]): [string, FactIndex] => {
        const byValue = [...values]
          .map(([value, numbers]) => [value, Bitmap.of(numbers)] as const)
          .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
        return [
          id,
          {
            known: unite(byValue.map(([, set]) => set)),
            byValue: byValue.filter(([value]) => value !== NONE),
          },
        ];
      }),
    );
    return { all: Bitmap.upTo(this.#end), fact: (id) => facts.get(id) };
  }
}

/** Stands for a list without values; no value is empty. */
const NONE = '';

/** How many items of a set have each value of a fact, the most first. */
export function facet(set: Bitmap, fact: FactIndex): readonly (readonly [string | number, number])[] {
  return fact.byValue
    .map(([value, items]) => [value, set.countAnd(items)] as const)
    .filter(([, n]) => n > 0)
    .sort((a, b) => b[1] - a[1]);
}
