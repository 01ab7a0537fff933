import { Bitmap } from '../../lens/bitmap.ts';
import {
  dayNumber,
  DayColumn,
  NumberColumn,
  TextColumn,
  ValueSets,
  type FactIndex,
} from '../../lens/fact-index.ts';
import { lensSet, type LensIndex } from '../../lens/lens-set.ts';
import type { Lens } from '../../lens/lens.ts';
import { PreparedHashes } from './distinct-people.ts';
import { confidencePercent, placeValue, type ItemRow } from './item-facts.ts';

/** Items whose numbers share all but their last 16 bits. */
export const BLOCK_ITEMS = 0x1_0000;

/**
 * What is known of the items of one block, in columns, all of the same length but for what says otherwise: as it is kept
 * and sent. Numbers of items are those within the block.
 */
export interface ItemBlock {
  /** In rising order. */
  readonly items: Uint32Array;
  /** Texts of which others are the indexes. */
  readonly words: Words;
  /** Indexes; -1 for what is not known. */
  readonly source: Int32Array;
  readonly place: Int32Array;
  readonly owner: Int32Array;
  readonly format: Int32Array;
  readonly document: Int32Array;
  readonly level: Int32Array;
  readonly levelBy: Int32Array;
  readonly unreadable: Uint8Array;
  readonly names: readonly string[];
  /** Bytes. */
  readonly size: Float64Array;
  /** Milliseconds since 1970; NaN for what is not known. */
  readonly created: Float64Array;
  readonly changed: Float64Array;
  readonly people: Uint32Array;
  /** By detector: items in rising order, with matches and confidence in percent. */
  readonly found: readonly FoundColumn[];
  /** Where the people of each item begin among the hashes, and where those of the last end. */
  readonly peopleFrom: Uint32Array;
  readonly peopleHashes: Uint8Array;
}

export interface Words {
  readonly sources: readonly string[];
  readonly places: readonly string[];
  readonly owners: readonly string[];
  readonly formats: readonly string[];
  readonly documents: readonly string[];
  readonly levels: readonly string[];
  readonly levelBys: readonly string[];
}

export interface FoundColumn {
  readonly detector: string;
  readonly items: Uint32Array;
  readonly matches: Uint32Array;
  readonly percent: Float64Array;
}

/** An item with the keyed hashes of the people in it. */
export type IndexedItem = ItemRow & { readonly hashes: Uint8Array };

/** The block of these items, which come in the order of their ids. */
export function buildBlock(items: readonly IndexedItem[]): ItemBlock {
  const table = () => {
    const words: string[] = [];
    const at = new Map<string, number>();
    return {
      words,
      index: (word: string | null) => {
        if (word === null || word === '') return -1;
        const known = at.get(word);
        if (known !== undefined) return known;
        at.set(word, words.length);
        return words.push(word) - 1;
      },
    };
  };
  const [sources, places, owners, formats] = [table(), table(), table(), table()];
  const [documents, levels, levelBys] = [table(), table(), table()];
  const found = new Map<string, { items: number[]; matches: number[]; percent: number[] }>();
  const peopleFrom = new Uint32Array(items.length + 1);
  for (const [i, item] of items.entries()) {
    peopleFrom[i + 1] = (peopleFrom[i] as number) + item.hashes.length;
    for (const f of item.findings) {
      const column = found.get(f.detector) ?? { items: [], matches: [], percent: [] };
      found.set(f.detector, column);
      column.items.push(item.id % BLOCK_ITEMS);
      column.matches.push(f.matches);
      column.percent.push(confidencePercent(f.confidence));
    }
  }
  const peopleHashes = new Uint8Array(peopleFrom[items.length] as number);
  for (const [i, item] of items.entries()) peopleHashes.set(item.hashes, peopleFrom[i] as number);
  const moment = (at: string | null) => (at === null ? NaN : Date.parse(at));
  return {
    items: Uint32Array.from(items, (i) => i.id % BLOCK_ITEMS),
    source: Int32Array.from(items, (i) => sources.index(i.source)),
    place: Int32Array.from(items, (i) => places.index(placeValue(i.source, i.place))),
    owner: Int32Array.from(items, (i) => owners.index(i.owner)),
    format: Int32Array.from(items, (i) => formats.index(i.format)),
    document: Int32Array.from(items, (i) => documents.index(i.document)),
    level: Int32Array.from(items, (i) => levels.index(i.level?.id ?? null)),
    levelBy: Int32Array.from(items, (i) => levelBys.index(i.level?.by ?? null)),
    unreadable: Uint8Array.from(items, (i) => (i.state === 'unreadable' ? 1 : 0)),
    names: items.map((i) => i.name),
    size: Float64Array.from(items, (i) => i.size),
    created: Float64Array.from(items, (i) => moment(i.created)),
    changed: Float64Array.from(items, (i) => moment(i.changed)),
    people: Uint32Array.from(items, (i) => i.people),
    found: [...found]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([detector, c]) => ({
        detector,
        items: Uint32Array.from(c.items),
        matches: Uint32Array.from(c.matches),
        percent: Float64Array.from(c.percent),
      })),
    peopleFrom,
    peopleHashes,
    words: {
      sources: sources.words,
      places: places.words,
      owners: owners.words,
      formats: formats.words,
      documents: documents.words,
      levels: levels.words,
      levelBys: levelBys.words,
    },
  };
}

/** Lenses of which a block keeps which items are in them. */
const KEPT_LENSES = 8;

/** A block that can be asked; what a question needs is made when it is first asked. */
export class BlockIndex implements LensIndex {
  readonly all: Bitmap;
  readonly #facts = new Map<string, FactIndex | undefined>();
  readonly #lenses = new Map<string, Bitmap>();
  /** By the number of an item within the block, where it stands in the columns; -1 for none. */
  readonly #at: Int32Array;

  /** The hashes of people, by eight bytes of the block. */
  readonly hashes: PreparedHashes;
  /** The year in which each was changed; 0 where that is not known. */
  readonly year: Uint16Array;

  constructor(
    readonly number: number,
    readonly block: ItemBlock,
  ) {
    this.hashes = new PreparedHashes(block.peopleHashes);
    this.year = Uint16Array.from(block.changed, (at) =>
      Number.isNaN(at) ? 0 : new Date(at).getUTCFullYear(),
    );
    this.all = Bitmap.ofSorted(block.items);
    this.#at = new Int32Array(BLOCK_ITEMS).fill(-1);
    for (let i = 0; i < block.items.length; i++) this.#at[block.items[i] as number] = i;
  }

  at(item: number): number {
    return this.#at[item] as number;
  }

  /** Where the items of a set stand in the columns, in rising order. */
  positions(set: Bitmap): Uint32Array {
    const all = new Uint32Array(set.size);
    const at = this.#at;
    let n = 0;
    set.forEach((item) => (all[n++] = at[item] as number));
    return all;
  }

  /** The items in a lens that has no fault; what was asked for lately is at hand. */
  lensSet(lens: Lens, today: string): Bitmap {
    const key = `${today} ${JSON.stringify(lens)}`;
    const known = this.#lenses.get(key);
    if (known) return known;
    const set = lensSet(lens, this, today);
    if (this.#lenses.size >= KEPT_LENSES) this.#lenses.delete(this.#lenses.keys().next().value as string);
    this.#lenses.set(key, set);
    return set;
  }

  fact(id: string): FactIndex | undefined {
    if (!this.#facts.has(id)) this.#facts.set(id, this.#make(id));
    return this.#facts.get(id);
  }

  /** Of a fact that is kept as sets. */
  sets(
    id: 'data' | 'document' | 'source' | 'place' | 'owner' | 'format' | 'state' | 'level' | 'level-by',
  ): ValueSets {
    return this.fact(id) as ValueSets;
  }

  #make(id: string): FactIndex | undefined {
    const b = this.block;
    switch (id) {
      case 'data':
        // What nothing was found in is known to hold nothing.
        return new ValueSets(
          this.all,
          b.found.map((f) => [f.detector, Bitmap.ofSorted(f.items)]),
        );
      case 'source':
        return this.#named(b.source, b.words.sources);
      case 'place':
        return this.#named(b.place, b.words.places);
      case 'owner':
        return this.#named(b.owner, b.words.owners);
      case 'format':
        return this.#named(b.format, b.words.formats);
      case 'document':
        return this.#named(b.document, b.words.documents);
      case 'level':
        return this.#named(b.level, b.words.levels);
      case 'level-by':
        return this.#named(b.levelBy, b.words.levelBys);
      case 'state':
        return this.#named(Int32Array.from(b.unreadable), ['read', 'unreadable']);
      case 'size':
        return new NumberColumn(b.items, b.size);
      case 'people':
        return new NumberColumn(b.items, b.people);
      case 'name':
        return new TextColumn(b.items, b.names);
      case 'created':
        return this.#days(b.created);
      case 'changed':
        return this.#days(b.changed);
    }
    const [what, detector] = id.split(/:(.*)/s);
    const found = b.found.find((f) => f.detector === detector);
    if (!found) return undefined;
    if (what === 'matches') return new NumberColumn(found.items, found.matches);
    return what === 'confidence' ? new NumberColumn(found.items, found.percent) : undefined;
  }

  #named(column: Int32Array, words: readonly string[]): ValueSets {
    const { items } = this.block;
    const sets: number[][] = words.map(() => []);
    const known: number[] = [];
    for (let i = 0; i < items.length; i++) {
      const word = column[i] as number;
      if (word < 0) continue;
      known.push(items[i] as number);
      (sets[word] as number[]).push(items[i] as number);
    }
    return new ValueSets(
      Bitmap.ofSorted(Uint32Array.from(known)),
      words.map((w, i) => [w, Bitmap.ofSorted(Uint32Array.from(sets[i] as number[]))]),
    );
  }

  #days(column: Float64Array): DayColumn {
    const { items } = this.block;
    const known = items.filter((_, i) => !Number.isNaN(column[i]));
    const days = column.filter((at) => !Number.isNaN(at));
    return new DayColumn(
      known,
      Int32Array.from(days, (at) => dayNumber(new Date(at).toISOString())),
    );
  }
}

/** Some of all items: of each block, which. */
export interface Selection {
  readonly parts: readonly { readonly index: BlockIndex; readonly set: Bitmap }[];
  readonly size: number;
}

/** What was in a lens on a day, and what of it is asked for now: what came since, or what left and is still held. */
export interface Against {
  readonly then: Bitmap;
  /** What was in it on a later day; absent for what is in it now. */
  readonly later?: Bitmap | undefined;
  readonly which: 'came' | 'left';
}

/** The items that came into a selection, or left it, of those of the same sources. */
export function changedItems(
  selection: Selection,
  { then, later, which }: Against,
  sources?: readonly string[],
): Selection {
  const parts = selection.parts.map(({ index, set }) => {
    const held = sources
      ? index.sets('source').meeting({ fact: 'source', is: 'one of', values: ['', ...sources] })
      : index.all;
    const before = then.part(index.number).and(held);
    const now = later ? later.part(index.number).and(held) : set;
    return { index, set: which === 'came' ? now.without(before) : before.without(now) };
  });
  return { parts, size: parts.reduce((n, p) => n + p.set.size, 0) };
}

/** A selection as one set of ids. */
export function idsOf({ parts }: Selection): Bitmap {
  return Bitmap.ofParts(parts.map(({ index, set }) => [index.number, set]));
}

/** The items in a lens that has no fault, of some sources where those are named. */
export function select(
  blocks: readonly BlockIndex[],
  lens: Lens,
  today: string,
  sources?: readonly string[],
): Selection {
  const parts = blocks.map((index) => {
    const set = index.lensSet(lens, today);
    if (!sources) return { index, set };
    const seen = index.sets('source').meeting({ fact: 'source', is: 'one of', values: ['', ...sources] });
    return { index, set: set.and(seen) };
  });
  return { parts, size: parts.reduce((n, p) => n + p.set.size, 0) };
}

/** Those of a selection that are in a set of ids. */
export function onlyThose(selection: Selection, only: Bitmap): Selection {
  const parts = selection.parts.map(({ index, set }) => ({ index, set: set.and(only.part(index.number)) }));
  return { parts, size: parts.reduce((n, p) => n + p.set.size, 0) };
}

/** Items that have one level in one way. */
export interface LevelSet {
  readonly level: string;
  readonly by: string;
  readonly items: Bitmap;
}

/** The items of a selection that have a level, by which one and what set it. */
export function levelSets({ parts }: Selection): readonly LevelSet[] {
  const sets = new Map<string, { level: string; by: string; parts: [number, Bitmap][] }>();
  for (const { index, set } of parts)
    for (const [level, items] of index.sets('level').byValue)
      for (const [by, alike] of index.sets('level-by').byValue) {
        const both = items.and(alike).and(set);
        if (both.size === 0) continue;
        const key = `${level} ${by}`;
        const known = sets.get(key) ?? { level, by, parts: [] };
        sets.set(key, known);
        known.parts.push([index.number, both]);
      }
  return [...sets.values()].map(({ level, by, parts: of }) => ({ level, by, items: Bitmap.ofParts(of) }));
}
