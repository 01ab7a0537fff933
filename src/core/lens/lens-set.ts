import { Bitmap } from './bitmap.ts';
import type { FactType, FactValue } from './fact.ts';
import { DayColumn, dayNumber, NumberColumn, TextColumn, ValueSets, type FactIndex } from './fact-index.ts';
import { isClause, type Clause, type Lens } from './lens.ts';

/** All items, and what is known of them, as sets. */
export interface LensIndex {
  readonly all: Bitmap;
  fact(id: string): FactIndex | undefined;
}

/** The items in a lens that has no fault, asked on a day in ISO 8601; the same that `holds` finds one by one. */
export function lensSet(lens: Lens, index: LensIndex, today: string): Bitmap {
  if (isClause(lens)) return clauseSet(lens, index, today);
  if ('not' in lens) return index.all.without(lensSet(lens.not, index, today));
  if ('any' in lens) return Bitmap.union(lens.any.map((l) => lensSet(l, index, today)));
  // The smallest first, so that the rest have little left to look through; once nothing is left, nothing is looked at.
  const sets = lens.all.map((l) => lensSet(l, index, today)).sort((a, b) => a.size - b.size);
  return sets.reduce((left, set) => (left.size === 0 ? left : left.and(set)), sets[0] ?? index.all);
}

function clauseSet(clause: Clause, index: LensIndex, today: string): Bitmap {
  const fact = index.fact(clause.fact);
  if (clause.is === 'unknown') return fact ? index.all.without(fact.known) : index.all;
  return fact ? fact.meeting(clause, today) : Bitmap.EMPTY;
}

/** An index made from items one by one: their numbers, and the values of each fact. */
export class IndexBuilder {
  readonly #facts = new Map<string, Gathered>();
  readonly #numbers: number[] = [];

  /** How values of a fact are kept follows from its type. */
  constructor(readonly typeOf: (fact: string) => FactType) {}

  /** `number`: in rising order, gaps allowed. */
  add(number: number, facts: Iterable<readonly [string, FactValue]>): void {
    this.#numbers.push(number);
    for (const [fact, value] of facts) {
      if (value === undefined) continue;
      const gathered = this.#facts.get(fact) ?? { items: [], values: [] };
      this.#facts.set(fact, gathered);
      gathered.items.push(number);
      gathered.values.push(value);
    }
  }

  done(): LensIndex {
    const facts = new Map([...this.#facts].map(([id, g]) => [id, indexOf(this.typeOf(id), g)] as const));
    return { all: Bitmap.ofSorted(Uint32Array.from(this.#numbers)), fact: (id) => facts.get(id) };
  }
}

interface Gathered {
  readonly items: number[];
  readonly values: Exclude<FactValue, undefined>[];
}

function indexOf(type: FactType, { items, values }: Gathered): FactIndex {
  const numbers = Uint32Array.from(items);
  switch (type) {
    case 'number':
      return new NumberColumn(numbers, Float64Array.from(values, Number));
    case 'day':
      return new DayColumn(
        numbers,
        Int32Array.from(values, (v) => dayNumber(String(v))),
      );
    case 'text':
      return new TextColumn(numbers, values.map(String));
    case 'choice':
    case 'place':
      return ValueSets.of(
        numbers,
        values.map((v) => (typeof v === 'object' ? v : [String(v)])),
      );
  }
}

/** How many items of a set have each value of a fact, the most first. */
export function facet(set: Bitmap, fact: ValueSets): readonly (readonly [string, number])[] {
  return fact.byValue
    .map(([value, items]) => [value, set.countAnd(items)] as const)
    .filter(([, n]) => n > 0)
    .sort((a, b) => b[1] - a[1]);
}
