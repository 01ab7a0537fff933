import { DistinctPeople, type PeopleCount } from './distinct-people.ts';
import { BLOCK_ITEMS, type Selection } from './item-index.ts';

/** What can be counted of the items in a lens. */
export interface ItemFigures {
  readonly items: number;
  readonly bytes: number;
  readonly people: PeopleCount;
  readonly unreadable: number;
  /** How many items hold each kind of data, the most first. */
  readonly data: readonly Counted[];
  /** How many are of each kind of document; '' for no known kind. */
  readonly documents: readonly Counted[];
  /** By document kind, how many items hold each kind of data. */
  readonly matrix: readonly { readonly document: string; readonly data: readonly Counted[] }[];
  readonly sources: readonly Counted[];
  readonly owners: readonly Counted[];
  readonly formats: readonly Counted[];
  /** By year of the last change; '' where that is not known. The latest first. */
  readonly years: readonly Counted[];
}

export interface Counted {
  readonly value: string;
  readonly count: number;
}

/** How many items hold each kind of data, the most first. */
export function dataCounts({ parts }: Selection): readonly Counted[] {
  const data = new Tally();
  for (const { index, set } of parts)
    for (const [detector, items] of index.sets('data').byValue) data.add(detector, set.countAnd(items));
  return data.most(Infinity);
}

/** Values that a breakdown tells at the most. */
const MOST = 40;

export function itemFigures({ parts, size }: Selection): ItemFigures {
  const people = new DistinctPeople();
  let bytes = 0;
  let unreadable = 0;
  const data = new Tally();
  const documents = new Tally();
  const sources = new Tally();
  const owners = new Tally();
  const formats = new Tally();
  const years = new Tally();
  const matrix = new Map<string, Tally>();
  for (const { index, set } of parts) {
    if (set.size === 0) continue;
    const { block } = index;
    const whole = set.size === index.all.size;
    const found = index.sets('data').byValue;
    const kinds = index.sets('document');
    for (const [detector, items] of found) data.add(detector, whole ? items.size : set.countAnd(items));
    const ofKind = [...kinds.byValue, ['', index.all.without(kinds.known)] as const];
    for (const [kind, items] of ofKind) {
      const both = whole ? items : set.and(items);
      documents.add(kind, both.size);
      if (both.size === 0) continue;
      const row = matrix.get(kind) ?? new Tally();
      matrix.set(kind, row);
      for (const [detector, holding] of found) row.add(detector, both.countAnd(holding));
    }
    // What each item has one of is counted in one go through the columns.
    const [bySource, byOwner, byFormat] = [block.words.sources, block.words.owners, block.words.formats].map(
      (w) => new Uint32Array(w.length + 1),
    ) as [Uint32Array, Uint32Array, Uint32Array];
    const byYear = new Uint32Array(10_000);
    const { high, low, year } = index;
    set.forEach((n) => {
      const i = index.at(n);
      bytes += block.size[i] as number;
      unreadable += block.unreadable[i] as number;
      bySource[(block.source[i] as number) + 1]!++;
      byOwner[(block.owner[i] as number) + 1]!++;
      byFormat[(block.format[i] as number) + 1]!++;
      byYear[Math.min(9999, year[i] as number)]!++;
      const to = (block.peopleFrom[i + 1] as number) / 8;
      for (let p = (block.peopleFrom[i] as number) / 8; p < to; p++)
        people.add(high[p] as number, low[p] as number);
    });
    sources.addAll(block.words.sources, bySource);
    owners.addAll(block.words.owners, byOwner);
    formats.addAll(block.words.formats, byFormat);
    for (const [y, n] of byYear.entries()) years.add(y === 0 ? '' : String(y), n);
  }
  const order = data.most(Infinity);
  return {
    items: size,
    bytes,
    people: people.count(),
    unreadable,
    data: order,
    documents: documents.most(MOST),
    matrix: documents
      .most(MOST)
      .map(({ value }) => ({ document: value, data: matrix.get(value)?.most(Infinity) ?? [] })),
    sources: sources.most(MOST),
    owners: owners.most(MOST),
    formats: formats.most(MOST),
    years: years.most(Infinity).toSorted((a, b) => (a.value < b.value ? 1 : -1)),
  };
}

class Tally {
  readonly #counts = new Map<string, number>();

  add(value: string, n: number): void {
    if (n > 0) this.#counts.set(value, (this.#counts.get(value) ?? 0) + n);
  }

  /** `counts` of the words, shifted by one for what is not known. */
  addAll(words: readonly string[], counts: Uint32Array): void {
    this.add('', counts[0] as number);
    for (const [i, w] of words.entries()) this.add(w, counts[i + 1] as number);
  }

  most(n: number): readonly Counted[] {
    return [...this.#counts]
      .map(([value, count]) => ({ value, count }))
      .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1))
      .slice(0, n);
  }
}

/** What lies right below a place, with how many items of the lens are in it or below. */
export interface PlaceCount {
  /** As lenses name it. */
  readonly value: string;
  readonly name: string;
  readonly items: number;
  /** Sum over its items; one person in several counts several times. */
  readonly people: number;
  readonly opens: boolean;
}

/** The places right below one, as a lens names it; of '' the sources. The one with the most items first. */
export function placesBelow({ parts }: Selection, above: string): readonly PlaceCount[] {
  const below = new Map<string, { items: number; people: number; opens: boolean }>();
  const prefix = above === '' ? '' : `${above}/`;
  for (const { index, set } of parts) {
    const { block } = index;
    const items = new Uint32Array(block.words.places.length);
    const people = new Float64Array(block.words.places.length);
    set.forEach((n) => {
      const i = index.at(n);
      const place = block.place[i] as number;
      items[place]!++;
      people[place]! += block.people[i] as number;
    });
    for (const [p, path] of block.words.places.entries()) {
      if (items[p] === 0 || !path.startsWith(prefix)) continue;
      const step = path.slice(prefix.length).split('/', 1)[0] as string;
      const value = prefix + step;
      const sum = below.get(value) ?? { items: 0, people: 0, opens: false };
      below.set(value, sum);
      sum.items += items[p] as number;
      sum.people += people[p] as number;
      sum.opens ||= path.length > value.length;
    }
  }
  return [...below]
    .map(([value, sum]) => ({ value, name: value.slice(prefix.length), ...sum }))
    .sort((a, b) => b.items - a.items || (a.name < b.name ? -1 : 1));
}

/** By what a list of items goes. */
export type ItemOrder = 'people' | 'changed' | 'size' | `matches:${string}`;

/**
 * The ids of a page of items, the largest first; those that are alike by id. `after`: the value and the id of the last
 * one before it. Of what is not known, last.
 */
export function itemPage(
  { parts }: Selection,
  order: ItemOrder,
  after: readonly [number, number] | undefined,
  size: number,
): readonly { readonly id: number; readonly value: number }[] {
  const found: { id: number; value: number }[] = [];
  // Whatever comes behind the last of a full page is passed over; sorted now and then instead of each time.
  let worst: { id: number; value: number } | undefined;
  const cut = () => {
    found.sort((a, b) => b.value - a.value || a.id - b.id);
    if (found.length > size) found.length = size;
    worst = found.length === size ? found.at(-1) : undefined;
  };
  const isBehind = (value: number, id: number, v: number, i: number) => value < v || (value === v && id > i);
  for (const { index, set } of parts) {
    const valueOf = orderColumn(index, order);
    const base = index.number * BLOCK_ITEMS;
    set.forEach((n) => {
      const value = valueOf(n);
      const id = base + n;
      if (after && !isBehind(value, id, after[0], after[1])) return;
      if (worst && isBehind(value, id, worst.value, worst.id)) return;
      if (found.push({ id, value }) >= size * 5) cut();
    });
  }
  cut();
  return found;
}

function orderColumn(index: Selection['parts'][number]['index'], order: ItemOrder): (n: number) => number {
  const { block } = index;
  if (order === 'people') return (n) => block.people[index.at(n)] as number;
  if (order === 'size') return (n) => block.size[index.at(n)] as number;
  if (order === 'changed')
    return (n) => {
      const at = block.changed[index.at(n)] as number;
      return Number.isNaN(at) ? -1 : at;
    };
  const found = block.found.find((f) => f.detector === order.slice('matches:'.length));
  const matches = new Uint32Array(BLOCK_ITEMS);
  if (found)
    for (let i = 0; i < found.items.length; i++)
      matches[found.items[i] as number] = found.matches[i] as number;
  return (n) => matches[n] as number;
}
