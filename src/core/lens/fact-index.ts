import { Bitmap } from './bitmap.ts';
import { daysOf, isDayClause } from './lens-day.ts';
import { isWithin } from './lens-item.ts';
import type { Clause } from './lens.ts';

/** A condition that looks at a value. */
export type ValueClause = Exclude<Clause, { is: 'unknown' }>;

/** What is known of one fact, over all items. */
export interface FactIndex {
  /** The items of which it is known. */
  readonly known: Bitmap;
  /** Those that meet a condition asked on a day in ISO 8601; none for a condition that it cannot be asked. */
  meeting(clause: ValueClause, today: string): Bitmap;
}

/** Of a fact with a few values, or a tree of places: the items of each. */
export class ValueSets implements FactIndex {
  constructor(
    readonly known: Bitmap,
    /** In order of the values. */
    readonly byValue: readonly (readonly [string, Bitmap])[],
  ) {}

  /** `items` in rising order, each with its values; of none it is known that it has none. */
  static of(items: Uint32Array, values: readonly (readonly string[])[]): ValueSets {
    const byValue = new Map<string, number[]>();
    for (const [i, all] of values.entries())
      for (const v of new Set(all)) {
        const numbers = byValue.get(v);
        if (numbers) numbers.push(items[i] as number);
        else byValue.set(v, [items[i] as number]);
      }
    return new ValueSets(
      Bitmap.ofSorted(items),
      [...byValue]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([value, numbers]) => [value, Bitmap.ofSorted(Uint32Array.from(numbers))]),
    );
  }

  of(value: string): Bitmap {
    return this.byValue.find(([v]) => v === value)?.[1] ?? Bitmap.EMPTY;
  }

  meeting(clause: ValueClause): Bitmap {
    if (clause.is !== 'one of' && clause.is !== 'in') return Bitmap.EMPTY;
    const meets =
      clause.is === 'in'
        ? (v: string) => isWithin(v, clause.place)
        : (
            (wanted) => (v: string) =>
              wanted.has(v)
          )(new Set(clause.values));
    return Bitmap.union(this.byValue.filter(([v]) => meets(v)).map(([, set]) => set));
  }
}

/** Of a fact with a number an item. */
export class NumberColumn implements FactIndex {
  readonly known: Bitmap;

  constructor(
    /** In rising order. */
    readonly items: Uint32Array,
    readonly values: Float64Array | Float32Array | Uint32Array,
  ) {
    this.known = Bitmap.ofSorted(items);
  }

  meeting(clause: ValueClause): Bitmap {
    if (clause.is === 'at least')
      return picked(this.items, (i) => (this.values[i] as number) >= clause.number);
    if (clause.is === 'at most')
      return picked(this.items, (i) => (this.values[i] as number) <= clause.number);
    return Bitmap.EMPTY;
  }
}

/** Of a fact with a day an item, counted from 1970. */
export class DayColumn implements FactIndex {
  readonly known: Bitmap;

  constructor(
    /** In rising order. */
    readonly items: Uint32Array,
    readonly days: Int32Array,
  ) {
    this.known = Bitmap.ofSorted(items);
  }

  meeting(clause: ValueClause, today: string): Bitmap {
    if (!isDayClause(clause)) return Bitmap.EMPTY;
    const range = daysOf(clause, today);
    const from = range.from === undefined ? -Infinity : dayNumber(range.from);
    const to = range.to === undefined ? Infinity : dayNumber(range.to);
    return picked(this.items, (i) => {
      const day = this.days[i] as number;
      return day >= from && day < to;
    });
  }
}

/** Of a fact that is searched in. */
export class TextColumn implements FactIndex {
  readonly known: Bitmap;
  readonly #lower: readonly string[];

  constructor(
    /** In rising order. */
    readonly items: Uint32Array,
    texts: readonly string[],
  ) {
    this.known = Bitmap.ofSorted(items);
    this.#lower = texts.map((t) => t.toLowerCase());
  }

  meeting(clause: ValueClause): Bitmap {
    if (clause.is !== 'holding') return Bitmap.EMPTY;
    const wanted = clause.text.toLowerCase();
    return picked(this.items, (i) => (this.#lower[i] as string).includes(wanted));
  }
}

function picked(items: Uint32Array, meets: (index: number) => boolean): Bitmap {
  const found = new Uint32Array(items.length);
  let n = 0;
  for (let i = 0; i < items.length; i++) if (meets(i)) found[n++] = items[i] as number;
  return Bitmap.ofSorted(found.subarray(0, n));
}

/** The days from 1 January 1970 to a day in ISO 8601, or to that of a moment. */
export function dayNumber(day: string): number {
  return Math.floor(Date.parse(day.slice(0, 10)) / 86_400_000);
}
