import { fitOf, folded, wantedBy } from '../../desk/find-rank.ts';
import { BLOCK_ITEMS, type BlockIndex, type ItemBlock, type Selection } from './item-index.ts';

interface FoldedBlock {
  /** As many as there are items. */
  readonly names: readonly string[];
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
  const made = { names: block.names.map(foldedName), places };
  FOLDED.set(block, made);
  return made;
}

/** Most names have no accents to take off. */
function foldedName(name: string): string {
  // eslint-disable-next-line no-control-regex -- those of ASCII are what is looked for
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
  for (const { index, set } of parts) {
    const { names, places } = foldedBlock(index);
    const { place } = index.block;
    // A place has a word once for all that lies in it.
    const has = wanted.words.map((word) =>
      places.map((p) => p.path.includes(word) || named.get(p.source)?.includes(word) === true),
    );
    let at = -1;
    const isBeside = (_word: string, number: number) => has[number]?.[at] ?? false;
    const base = index.number * BLOCK_ITEMS;
    set.forEach((item) => {
      const i = index.at(item);
      at = place[i] as number;
      const fit = fitOf(names[i] as string, wanted, isBeside);
      if (fit === undefined || fit < worst) return;
      if (found.push({ id: base + item, fit }) >= most * 8) cut();
    });
  }
  cut();
  return found;
}
