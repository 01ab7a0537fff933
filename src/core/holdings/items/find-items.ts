import { fitOf, folded, wantedBy } from '../../desk/find-rank.ts';
import { BLOCK_ITEMS, type BlockIndex, type ItemBlock, type Selection } from './item-index.ts';

interface FoldedBlock {
  /** All names behind each other, each ended by a line feed: a search leaps from hit to hit. */
  readonly text: string;
  /** Where each begins, and where the last ends. */
  readonly starts: Uint32Array;
  /** By the index of a place: its source, and its path below that. */
  readonly places: readonly { readonly source: string; readonly path: string }[];
}

/** What was folded once; as long as the block is there. */
const FOLDED = new WeakMap<ItemBlock, FoldedBlock>();

function foldedBlock({ block }: BlockIndex): FoldedBlock {
  const known = FOLDED.get(block);
  if (known) return known;
  const places = block.words.places.map((place) => {
    const [, source = '', path = ''] = /^([^/]*)\/?(.*)$/s.exec(place) ?? [];
    return { source, path: foldedName(path) };
  });
  const names = block.names.map((name) => foldedName(name).replaceAll('\n', ' '));
  const starts = new Uint32Array(names.length + 1);
  for (let i = 0; i < names.length; i++)
    starts[i + 1] = (starts[i] as number) + (names[i] as string).length + 1;
  const made = { text: names.map((n) => `${n}\n`).join(''), starts, places };
  FOLDED.set(block, made);
  return made;
}

/** Most names have no accents to take off. */
function foldedName(name: string): string {
  return /^[\x00-\x7f]*$/.test(name) ? name.toLowerCase() : folded(name);
}

export interface FoundItem {
  readonly id: number;
  readonly fit: number;
}

/**
 * Those of a selection that have every word of a text in their name, their place or the name of their source, as a part of a
 * word too; the best first, by `fitOf`, and of those that fit alike the one that came later. `sources`: names by id.
 */
export function findItems(
  { parts }: Selection,
  text: string,
  most: number,
  sources: Readonly<Record<string, string>> = {},
): readonly FoundItem[] {
  const wanted = wantedBy(text);
  if (wanted.words.length === 0) return [];
  const named = new Map(Object.entries(sources).map(([id, name]) => [id, folded(name)]));
  let found: FoundItem[] = [];
  let worst = -Infinity;
  const cut = () => {
    found.sort((a, b) => b.fit - a.fit || b.id - a.id);
    found = found.slice(0, most);
    if (found.length === most) worst = found.at(-1)?.fit ?? -Infinity;
  };
  // The later first: of those that fit alike they are the better ones, and the others are passed over.
  for (const { index, set } of parts.toReversed()) {
    const block = foldedBlock(index);
    const { place } = index.block;
    // A place has a word once for all that lies in it.
    const has = wanted.words.map((word) =>
      block.places.map((p) => p.path.includes(word) || named.get(p.source)?.includes(word) === true),
    );
    let at = -1;
    const isBeside = (_word: string, number: number) => has[number]?.[at] ?? false;
    const base = index.number * BLOCK_ITEMS;
    for (const i of holding(block, place, wanted.words, has).reverse()) {
      const item = index.block.items[i] as number;
      if (!set.has(item)) continue;
      at = place[i] as number;
      const name = block.text.slice(block.starts[i], (block.starts[i + 1] as number) - 1);
      const fit = fitOf(name, wanted, isBeside);
      if (fit === undefined || fit <= worst) continue;
      if (found.push({ id: base + item, fit }) >= most * 8) cut();
    }
  }
  cut();
  return found;
}

/** Where in a block those stand that have every word, in their name or beside it. */
function holding(
  { text, starts }: FoldedBlock,
  place: Int32Array,
  words: readonly string[],
  has: readonly (readonly boolean[])[],
): Uint32Array {
  const items = starts.length - 1;
  // How many words, from the first one on, each has.
  const held = new Uint8Array(items);
  for (const [n, word] of words.entries()) {
    const beside = has[n] as readonly boolean[];
    if (beside.includes(true))
      for (let i = 0; i < items; i++) if (held[i] === n && beside[place[i] as number]) held[i] = n + 1;
    let i = 0;
    for (let hit = text.indexOf(word); hit >= 0; hit = text.indexOf(word, starts[i + 1])) {
      while ((starts[i + 1] as number) <= hit) i++;
      if (held[i] === n) held[i] = n + 1;
    }
  }
  const all = new Uint32Array(items);
  let n = 0;
  for (let i = 0; i < items; i++) if (held[i] === words.length) all[n++] = i;
  return all.subarray(0, n);
}
