import { z } from 'zod';
import { PART_NAMES } from './figure.ts';
import { PERIODS } from './comparison.ts';

export const SHOWN_AS = ['number', 'line', 'bars', 'table'] as const;
export type ShownAs = (typeof SHOWN_AS)[number];
/** More than eight are read by nobody. */
export const MOST_TILES = 8;

export const Tile = z.strictObject({
  /** Of its own, so that one figure can be shown twice. */
  id: z.string().regex(/^[a-z0-9]{1,16}$/),
  figure: z.string().min(1).max(60),
  as: z.enum(SHOWN_AS).default('number'),
  /** Nothing for time. */
  by: z.enum(PART_NAMES).nullable().default(null),
  /** Of a line or bars over time, how far back. */
  days: z.int().min(7, 'A week at least').max(1100, 'Three years at most').default(90),
});
export type Tile = z.infer<typeof Tile>;

export const Board = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name').max(80, 'At most 80 characters'),
  about: z.string().trim().max(300, 'At most 300 characters').default(''),
  compare: z.enum(PERIODS).default('quarter'),
  tiles: z
    .array(Tile)
    .max(MOST_TILES, `At most ${MOST_TILES} figures: a board that says everything is not read`)
    .refine((all) => new Set(all.map((t) => t.id)).size === all.length, 'Two of them have the same id'),
});
export type Board = z.infer<typeof Board>;

/** With one of them moved to another place among them. */
export function movedTile(tiles: readonly Tile[], id: string, to: number): readonly Tile[] {
  const moved = tiles.find((t) => t.id === id);
  if (!moved) return tiles;
  const rest = tiles.filter((t) => t !== moved);
  return rest.toSpliced(Math.max(0, Math.min(to, rest.length)), 0, moved);
}

/** An id that no tile has yet. */
export function freeTileId(tiles: readonly Tile[]): string {
  const taken = new Set(tiles.map((t) => t.id));
  for (let n = 1; ; n++) if (!taken.has(`t${n}`)) return `t${n}`;
}
