import { deserialize, serialize } from 'node:v8';
import { deflateSync, inflateSync } from 'node:zlib';
import { z } from 'zod';
import {
  BlockIndex,
  changedItems,
  idsOf,
  levelSets,
  onlyThose,
  select,
  type ItemBlock,
  type Selection,
} from '../../../../core/holdings/items/item-index.ts';
import {
  dataCounts,
  itemFigures,
  itemPage,
  placesBelow,
  type Counted,
  type ItemFigures,
  type ItemOrder,
  type PlaceCount,
} from '../../../../core/holdings/items/item-figures.ts';
import { findItems } from '../../../../core/holdings/items/find-items.ts';
import { Bitmap } from '../../../../core/lens/bitmap.ts';
import type { Lens } from '../../../../core/lens/lens.ts';
import { Bytes, Count } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { readBlock } from './read-block.ts';

/** What is asked of the items in a lens that has no fault. */
export interface LensQuestion {
  readonly lens: Lens;
  /** ISO 8601. */
  readonly today: string;
  /** Only items of these; of all where none are named. */
  readonly sources: readonly string[] | null;
  /**
   * As things were some seconds ago will do, where reading what changed takes long: for looking at, never for deciding by.
   */
  readonly mayBeOld?: boolean;
  /** Only these, a set in bytes. */
  readonly only?: Uint8Array | undefined;
  /** Only what came into the lens since, or left it; the sets in bytes. */
  readonly against?:
    | { readonly then: Uint8Array; readonly later: Uint8Array | null; readonly which: 'came' | 'left' }
    | undefined;
  readonly ask:
    | { readonly what: 'figures' }
    | { readonly what: 'places'; readonly above: string }
    | {
        readonly what: 'page';
        readonly order: ItemOrder;
        readonly after: readonly [number, number] | null;
        readonly size: number;
      }
    /** How many ids of a set are held no more. */
    | { readonly what: 'missing'; readonly of: Uint8Array }
    /** As one set of ids. */
    | { readonly what: 'ids' }
    | { readonly what: 'count' }
    /** Which have a level, and what set it. */
    | { readonly what: 'levels' }
    | { readonly what: 'data' }
    /** What sources call the owners of any of them, and of others in their blocks. */
    | { readonly what: 'owners' }
    /** Those whose name or place has all words of a text, the best first; `names` of sources by their ids. */
    | {
        readonly what: 'find';
        readonly text: string;
        readonly most: number;
        readonly names: Readonly<Record<string, string>>;
      }
    /** What another area makes of them, as it asks itself. */
    | { readonly what: 'area'; readonly area: string; readonly question: unknown };
}

/** What an area answers of items, in the thread that has them in memory. */
export interface AreaAnswers {
  answer(selection: Selection, question: unknown): unknown;
}

export interface LensAnswers {
  readonly figures: ItemFigures;
  readonly places: readonly PlaceCount[];
  readonly page: readonly { readonly id: number; readonly value: number }[];
  readonly missing: number;
  readonly ids: Uint8Array;
  readonly count: number;
  readonly levels: readonly { readonly level: string; readonly by: string; readonly items: Uint8Array }[];
  readonly data: { readonly items: number; readonly data: readonly Counted[] };
  readonly owners: readonly string[];
  readonly find: readonly { readonly id: number; readonly fit: number }[];
  readonly area: unknown;
}

interface Loaded {
  readonly revision: number;
  readonly index: BlockIndex;
}

/** Reading anew takes longer than this: a moment old will do meanwhile. */
const SLOW_MS = 400;
export const FRESH_MS = 5000;
/** A block that did not change for so long is kept for the next start. */
const QUIET_MS = 30_000;
/** A smaller block is read as fast from its rows. */
const WORTH_KEEPING = 5000;

const Revision = z.object({ block: z.number(), revision: Count });
const Kept = z.object({ content: Bytes });

/** The index of lenses on all items, as the rows are; blocks that changed are read again. */
export class LensIndexes {
  readonly #blocks = new Map<number, Loaded>();
  #refreshing: Promise<void> | undefined;
  #refreshedAt = -Infinity;
  #took = 0;

  constructor(
    readonly store: Queries,
    /** By the name of the area. */
    readonly areas: ReadonlyMap<string, AreaAnswers> = new Map(),
  ) {}

  async answer(question: LensQuestion): Promise<LensAnswers[keyof LensAnswers]> {
    await this.#beFresh(question.mayBeOld ?? false);
    const blocks = [...this.#blocks.entries()].sort(([a], [b]) => a - b).map(([, b]) => b.index);
    const sources = question.sources ?? undefined;
    const found = select(blocks, question.lens, question.today, sources);
    const selection = question.only ? onlyThose(found, Bitmap.fromBytes(question.only)) : found;
    const { against, ask } = question;
    if (ask.what === 'missing') {
      const wanted = Bitmap.fromBytes(ask.of);
      return wanted.size - blocks.reduce((n, b) => n + wanted.part(b.number).countAnd(b.all), 0);
    }
    if (ask.what === 'area') {
      const area = this.areas.get(ask.area);
      if (!area) throw new Error(`Nothing answers for ${ask.area} here.`);
      return area.answer(selection, ask.question);
    }
    if (!against) return answerOf(selection, ask);
    const later = against.later ? Bitmap.fromBytes(against.later) : undefined;
    return answerOf(
      changedItems(selection, { then: Bitmap.fromBytes(against.then), later, which: against.which }, sources),
      ask,
    );
  }

  async #beFresh(mayBeOld: boolean): Promise<void> {
    const isRecent = performance.now() - this.#refreshedAt < FRESH_MS;
    // One that is under way may have read what changed since already.
    if (!mayBeOld && this.#refreshing) await this.#refreshing;
    const refreshing = (this.#refreshing ??= this.#refresh().finally(() => (this.#refreshing = undefined)));
    if (mayBeOld && this.#took > SLOW_MS && isRecent) refreshing.catch(() => {});
    else await refreshing;
  }

  async #refresh(): Promise<void> {
    const begun = performance.now();
    const rows = await this.store.all(Revision, 'SELECT block, revision FROM item_block');
    let read = 0;
    for (const { block, revision } of rows) {
      if (this.#blocks.get(block)?.revision === revision) continue;
      this.#blocks.set(block, { revision, index: new BlockIndex(block, await this.#load(block, revision)) });
      read++;
    }
    this.#refreshedAt = performance.now();
    if (read > 0) this.#took = this.#refreshedAt - begun;
  }

  async #load(block: number, revision: number): Promise<ItemBlock> {
    const kept = await this.store.one(
      Kept,
      'SELECT content FROM lens_block WHERE block = ? AND revision = ?',
      [block, revision],
    );
    if (kept) return deserialize(inflateSync(kept.content)) as ItemBlock;
    const built = await readBlock(this.store, block);
    if (built.items.length >= WORTH_KEEPING)
      setTimeout(() => void this.#keep(block, revision, built).catch(() => {}), QUIET_MS).unref();
    return built;
  }

  /** For the next start, and for other processes. What was read while rows changed is read again at the next revision. */
  async #keep(block: number, revision: number, built: ItemBlock): Promise<void> {
    const [now] = await this.store.all(Revision, 'SELECT block, revision FROM item_block WHERE block = ?', [
      block,
    ]);
    if (now?.revision !== revision) return;
    await this.store.run('REPLACE INTO lens_block (block, revision, content) VALUES (?, ?, ?)', [
      block,
      revision,
      deflateSync(serialize(built), { level: 1 }),
    ]);
  }
}

function answerOf(
  selection: Selection,
  ask: Exclude<LensQuestion['ask'], { what: 'missing' | 'area' }>,
): LensAnswers[keyof LensAnswers] {
  switch (ask.what) {
    case 'figures':
      return itemFigures(selection);
    case 'places':
      return placesBelow(selection, ask.above);
    case 'page':
      return itemPage(selection, ask.order, ask.after ?? undefined, ask.size);
    case 'levels':
      return levelSets(selection).map((l) => ({ ...l, items: l.items.toBytes() }));
    case 'find':
      return findItems(selection, ask.text, ask.most, ask.names);
    case 'count':
      return selection.size;
    case 'ids':
      return idsOf(selection).toBytes();
    case 'owners':
      return [...new Set(selection.parts.flatMap((p) => p.index.block.words.owners))].sort();
    case 'data':
      return { items: selection.size, data: dataCounts(selection) };
  }
}
