import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { itemVocabulary, type ItemNames } from '../../../core/holdings/items/item-facts.ts';
import type { ItemFigures, ItemOrder, PlaceCount } from '../../../core/holdings/items/item-figures.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { LensTextError, parseLens } from '../../../core/lens/lens-text.ts';
import type { Lens } from '../../../core/lens/lens.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { BigId, Count, Instant } from '../../store/columns.ts';
import { decodeCursor, encodeCursor, type Page } from '../../store/page.ts';
import { keptItems } from '../lenses/kept-items.ts';
import { askLens } from './index/ask-lens.ts';
import type { LensQuestion } from './index/lens-index.ts';
import { itemNames } from './item-names.ts';

/** A lens as it stands in an address: its line. */
export const LensLine = z.string().max(8000).default('everything');

/** Throws a RefusedError naming what in the line cannot be read. */
export function readLens(line: string): Lens {
  try {
    return parseLens(line.trim() === '' ? 'everything' : line);
  } catch (error) {
    if (!(error instanceof LensTextError)) throw error;
    throw new RefusedError('This lens cannot be read.', [{ field: 'lens', message: error.message }]);
  }
}

/** What somebody wants to see of what came into a lens, or left it, between two days; of all of it where no day is said. */
export const ComparedInput = {
  since: z.iso.date().optional(),
  until: z.iso.date().optional(),
  which: z.enum(['came', 'left']).optional(),
};
export interface Compared {
  readonly since?: string | undefined;
  readonly until?: string | undefined;
  readonly which?: 'came' | 'left' | undefined;
}

interface Looking {
  readonly lens: Lens;
  readonly today: string;
  readonly sources: readonly string[] | null;
  readonly mayBeOld: true;
  readonly against?: LensQuestion['against'];
}

function lookingAt(ctx: Context, account: Pick<Account, 'scope'>, lens: Lens): Looking {
  return {
    lens,
    today: ctx.now().toISOString().slice(0, 10),
    sources: account.scope?.['source'] ?? null,
    mayBeOld: true,
  };
}

/** What is asked about, and what of it is gone; a lens with a fault matches nothing. */
async function looking(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  line: string,
  { since, until, which }: Compared = {},
): Promise<{ readonly asked: Looking; readonly faults: readonly string[]; readonly names: ItemNames }> {
  const lens = readLens(line);
  const against =
    since === undefined || which === undefined
      ? undefined
      : {
          then: await keptItems(ctx.store, lens, since),
          later: until === undefined ? null : await keptItems(ctx.store, lens, until),
          which,
        };
  const names = await itemNames(ctx.store);
  const faults = lensFaults(lens, itemVocabulary(names)).map((f) => f.words);
  return {
    asked: { ...lookingAt(ctx, account, faults.length > 0 ? { any: [] } : lens), against },
    faults,
    names,
  };
}

export interface ExplorerFigures extends ItemFigures {
  readonly faults: readonly string[];
}

export async function explorerFigures(
  ctx: Context,
  account: Account,
  line: string,
  compared: Compared = {},
): Promise<ExplorerFigures> {
  const { asked, faults } = await looking(ctx, account, line, compared);
  return { ...(await askLens(ctx, { ...asked, ask: { what: 'figures' } })), faults };
}

export async function explorerPlaces(
  ctx: Context,
  account: Account,
  line: string,
  above: string,
  compared: Compared = {},
): Promise<readonly PlaceCount[]> {
  const { asked } = await looking(ctx, account, line, compared);
  return askLens(ctx, { ...asked, ask: { what: 'places', above } });
}

/** How many items are in a lens that has no fault. */
export function countItems(ctx: Context, account: Pick<Account, 'scope'>, lens: Lens): Promise<number> {
  return askLens(ctx, { ...lookingAt(ctx, account, lens), ask: { what: 'count' } });
}

/** An item as the table of the explorer shows it. */
export interface ListedItemRow {
  readonly id: string;
  readonly name: string;
  readonly source: string;
  readonly place: string;
  readonly owner: string;
  readonly format: string;
  readonly size: number;
  readonly changed: string | null;
  readonly people: number;
  readonly document: string | null;
  readonly unreadable: boolean;
  readonly problem: string | null;
  readonly findings: readonly {
    readonly detector: string;
    readonly matches: number;
    readonly confidence: number;
  }[];
}

const Row = z.object({
  id: BigId,
  name: z.string(),
  source_id: BigId,
  path: z.string(),
  owner: z.string(),
  format: z.string(),
  size: Count,
  changed_at: Instant.nullable(),
  people: z.number(),
  document: z.string().nullable(),
  state: z.string(),
  problem: z.string().nullable(),
});
const Found = z.object({ item_id: BigId, detector: z.string(), matches: z.number(), confidence: z.number() });

export const ItemOrderInput = z
  .string()
  .regex(/^(?:people|changed|size|matches:[\w.-]{1,64})$/)
  .default('people')
  .transform((o) => o as ItemOrder);

/** A page of the items in a lens. */
export async function explorerPage(
  ctx: Context,
  account: Account,
  {
    lens,
    order,
    after,
    size,
    ...compared
  }: { lens: string; order: ItemOrder; after?: string | undefined; size: number } & Compared,
): Promise<Page<ListedItemRow>> {
  const { asked } = await looking(ctx, account, lens, compared);
  const from = after === undefined ? null : decodeCursor(after, z.tuple([z.number(), z.int()]));
  const page = await askLens(ctx, { ...asked, ask: { what: 'page', order, after: from, size: size + 1 } });
  const shown = page.slice(0, size);
  const last = shown.at(-1);
  const rows = await readItems(
    ctx,
    shown.map((s) => s.id),
  );
  return {
    rows: shown.flatMap((s) => rows.get(String(s.id)) ?? []),
    next: page.length > size && last ? encodeCursor([last.value, last.id]) : null,
  };
}

async function readItems(
  { store }: Context,
  ids: readonly number[],
): Promise<ReadonlyMap<string, ListedItemRow>> {
  if (ids.length === 0) return new Map();
  const [rows, found] = await Promise.all([
    store.all(
      Row,
      `SELECT i.id, COALESCE(i.title, i.name) AS name, i.source_id, p.path, i.owner, i.format, i.size, i.changed_at, i.people, i.document, i.state, i.problem
       FROM item i JOIN place p ON p.id = i.place_id WHERE i.id IN (?)`,
      [ids],
    ),
    store.all(
      Found,
      'SELECT item_id, detector, matches, confidence FROM finding WHERE item_id IN (?) AND rehearsed = 0 ORDER BY matches DESC',
      [ids],
    ),
  ]);
  return new Map(
    rows.map(({ source_id, path, changed_at, state, ...row }): [string, ListedItemRow] => [
      row.id,
      {
        ...row,
        source: source_id,
        place: path,
        changed: changed_at,
        unreadable: state === 'unreadable',
        findings: found.filter((f) => f.item_id === row.id).map(({ item_id: _id, ...f }) => f),
      },
    ]),
  );
}
