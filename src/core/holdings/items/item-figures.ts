import { DistinctPeople, type PeopleCount } from './distinct-people.ts';
import type { Bitmap } from '../../lens/bitmap.ts';
import { BLOCK_ITEMS, type BlockIndex, type Selection } from './item-index.ts';

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
  /** By classification level; '' for none. */
  readonly levels: readonly Counted[];
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
  const levels = new Tally();
  const years = new Tally();
  const matrix = new Map<string, Tally>();
  for (const { index, set } of parts) {
    if (set.size === 0) continue;
    const { words } = index.block;
    const whole = set.size === index.all.size;
    const figures = whole ? wholeFigures(index) : blockFigures(index, set);
    bytes += figures.bytes;
    unreadable += figures.unreadable;
    sources.addAll(words.sources, figures.bySource);
    owners.addAll(words.owners, figures.byOwner);
    formats.addAll(words.formats, figures.byFormat);
    levels.addAll(words.levels, figures.byLevel);
    for (const [y, n] of figures.byYear.entries()) years.add(y === 0 ? '' : String(y), n);
    for (const { kind, items, holding } of figures.kinds) {
      documents.add(kind, items);
      const row = matrix.get(kind) ?? new Tally();
      matrix.set(kind, row);
      for (const [d, [detector]] of index.sets('data').byValue.entries()) {
        row.add(detector, holding[d] as number);
        data.add(detector, holding[d] as number);
      }
    }
    if (whole) people.addWhole(index.hashes);
    else {
      const { peopleFrom } = index.block;
      for (const i of figures.positions)
        people.addSome(index.hashes, (peopleFrom[i] as number) / 8, (peopleFrom[i + 1] as number) / 8);
    }
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
    levels: levels.most(MOST),
    years: years.most(Infinity).toSorted((a, b) => (a.value < b.value ? 1 : -1)),
  };
}

/** What is counted of some items of one block; by index of a word shifted by one, 0 for what is not known. */
interface BlockFigures {
  readonly bytes: number;
  readonly unreadable: number;
  readonly bySource: Uint32Array;
  readonly byOwner: Uint32Array;
  readonly byFormat: Uint32Array;
  readonly byLevel: Uint32Array;
  readonly byYear: Uint32Array;
  /** Of each kind of document among them; how many hold each kind of data, in the order of the block. */
  readonly kinds: readonly { readonly kind: string; readonly items: number; readonly holding: Uint32Array }[];
  /** Where they stand in the columns. */
  readonly positions: Uint32Array;
}

/** Of all items of a block, which does not change. */
const WHOLE = new WeakMap<BlockIndex, BlockFigures>();

function wholeFigures(index: BlockIndex): BlockFigures {
  const known = WHOLE.get(index);
  if (known) return known;
  const made = { ...blockFigures(index, index.all), positions: new Uint32Array() };
  WHOLE.set(index, made);
  return made;
}

function blockFigures(index: BlockIndex, set: Bitmap): BlockFigures {
  const { block } = index;
  const found = index.sets('data').byValue;
  const documents = index.sets('document');
  const kinds = [...documents.byValue, ['', index.all.without(documents.known)] as const].flatMap(
    ([kind, items]) => {
      const both = set.and(items);
      if (both.size === 0) return [];
      const holding = Uint32Array.from(found, ([, holders]) => both.countAnd(holders));
      return [{ kind, items: both.size, holding }];
    },
  );
  // One column after the other: short loops over numbers are what runs fastest.
  const positions = index.positions(set);
  return {
    bytes: sumAt(block.size, positions),
    unreadable: sumAt(block.unreadable, positions),
    bySource: countAt(block.source, positions, block.words.sources.length),
    byOwner: countAt(block.owner, positions, block.words.owners.length),
    byFormat: countAt(block.format, positions, block.words.formats.length),
    byLevel: countAt(block.level, positions, block.words.levels.length),
    byYear: countAt(index.year, positions, 9999, 0),
    kinds,
    positions,
  };
}

function sumAt(column: Float64Array | Uint8Array, positions: Uint32Array): number {
  let sum = 0;
  for (let i = 0; i < positions.length; i++) sum += column[positions[i] as number] as number;
  return sum;
}

/** How often each value up to `most` stands at these places, shifted by `shift`. */
function countAt(
  column: Int32Array | Uint16Array,
  positions: Uint32Array,
  most: number,
  shift = 1,
): Uint32Array {
  const counts = new Uint32Array(most + 1);
  for (let i = 0; i < positions.length; i++) {
    const at = Math.min(most, (column[positions[i] as number] as number) + shift);
    counts[at] = (counts[at] as number) + 1;
  }
  return counts;
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
