import type { Account } from '../../core/accounts/authority.ts';
import type { Board, Tile } from '../../core/figures/board.ts';
import { compareDays, lastDayBefore, valueOn, type Comparison } from '../../core/figures/comparison.ts';
import { byPart, type FigureRow, type PartValue } from '../../core/figures/figure-row.ts';
import type { Part } from '../../core/figures/figure.ts';
import type { Context } from '../context.ts';
import { BOARD } from '../evidence/boards/boards.ts';
import { rowsOn, type KeptValue } from '../figures/kept-figures.ts';
import { figureIds, figuresOf, thinned, type CatalogueFigure, type ShownFigure } from './figures.ts';

/** One part of a figure, and what it was. */
export interface ShownPart extends PartValue {
  readonly before: number | null;
}

export interface ShownTile {
  readonly tile: Tile;
  /** `hidden` for a figure that the account may not know, or that is no more. */
  readonly figure: CatalogueFigure | null;
  readonly hidden: 'not yours' | 'gone' | null;
  readonly now: KeptValue | null;
  readonly comparison: Comparison | null;
  readonly days: readonly KeptValue[];
  /** Where it is shown by one. */
  readonly parts: readonly ShownPart[] | null;
}

export interface ShownBoard {
  readonly id: number;
  readonly board: Board;
  /** The day that it tells of. */
  readonly day: string;
  /** The last day of the period that it is compared with. */
  readonly comparedWith: string;
  readonly tiles: readonly ShownTile[];
}

/** So many of a line’s days are told; of more, one in so many. */
const MOST_POINTS = 190;
/** As far back as a year’s end is, and some days. */
const LOOKED_BACK_DAYS = 380;

/**
 * A board as it stood on a day, of what an account may know of it; figures as they were counted last by then. Throws a
 * RefusedError (404).
 */
export async function showBoard(
  ctx: Context,
  account: Account,
  id: number,
  day: string = ctx.now().toISOString().slice(0, 10),
): Promise<ShownBoard> {
  const board = await BOARD.read(ctx.store, id);
  const days = Math.max(LOOKED_BACK_DAYS, ...board.tiles.map((t) => t.days));
  const until = new Date(`${day}T23:59:59Z`);
  const only = new Set(board.tiles.map((t) => t.figure));
  const figures = new Map((await figuresOf(ctx, account, days, { until, only })).map((f) => [f.id, f]));
  const comparedWith = lastDayBefore(day, board.compare);
  const tiles: ShownTile[] = [];
  for (const tile of board.tiles) {
    const figure = figures.get(tile.figure);
    tiles.push(figure ? await showTile(ctx, tile, figure, day, comparedWith) : hiddenTile(tile));
  }
  return { id, board, day, comparedWith, tiles };
}

function hiddenTile(tile: Tile): ShownTile {
  return {
    ...{ tile, figure: null, now: null, comparison: null, days: [], parts: null },
    hidden: figureIds().has(tile.figure) ? 'not yours' : 'gone',
  };
}

async function showTile(
  ctx: Context,
  tile: Tile,
  { days, ...figure }: ShownFigure,
  day: string,
  comparedWith: string,
): Promise<ShownTile> {
  const now = valueOn(days, day) ?? null;
  const before = valueOn(days, comparedWith);
  const first = new Date(Date.parse(day) - tile.days * 86_400_000).toISOString().slice(0, 10);
  const isByPart = tile.by !== null && figure.parts.includes(tile.by);
  return {
    ...{ tile, figure, hidden: null, now },
    comparison: (now && before && compareDays(figure, now, before)) ?? null,
    days: thinned(
      days.filter((d) => d.day >= first),
      MOST_POINTS,
    ),
    parts: isByPart && tile.by ? await shownParts(ctx, figure, tile.by, day, comparedWith) : null,
  };
}

/** The figure of each part on a day, and before. */
export async function shownParts(
  ctx: Context,
  figure: CatalogueFigure,
  part: Part,
  day: string,
  comparedWith: string,
): Promise<readonly ShownPart[]> {
  const [rows, were] = [
    await rowsOn(ctx.store, figure.id, day),
    await rowsOn(ctx.store, figure.id, comparedWith),
  ];
  const value = (all: readonly FigureRow[]) =>
    byPart(figure, all, part).map((p) => ({ ...p, value: toldPart(figure, p) }));
  const before = new Map(value(were).map((p) => [p.part, p.value]));
  return value(rows).map((p) => ({ ...p, before: before.get(p.part) ?? null }));
}

/** A count that is told as a share is one in each of its parts, too. */
function toldPart({ asShare }: Pick<CatalogueFigure, 'asShare'>, { value, of }: PartValue): number | null {
  if (!asShare) return value;
  return value === null || !of ? null : value / of;
}
