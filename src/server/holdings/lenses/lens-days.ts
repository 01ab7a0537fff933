import { deflateSync } from 'node:zlib';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Counted } from '../../../core/holdings/items/item-figures.ts';
import { KeptLens } from '../../../core/holdings/lenses/kept-lens.ts';
import { EVERYTHING, type Lens } from '../../../core/lens/lens.ts';
import type { Context } from '../../context.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { explorerFigures, readLens } from '../items/explorer.ts';
import { askLens } from '../items/index/ask-lens.ts';
import { keptItems, lineHash } from './kept-items.ts';

/** Days that are kept each; of what is older, the first of each month. */
const EACH_DAY = 100;
/** Lenses that are kept under a name are counted each day; more than these nobody compares. */
const MOST_LENSES = 500;

const Figures = z.object({
  items: z.number(),
  people: z.number(),
  data: z.array(z.object({ value: z.string(), count: z.number() })),
  documents: z.array(z.object({ value: z.string(), count: z.number() })),
});
type Figures = z.infer<typeof Figures>;

/** Keeps what is in each lens that has a name, and in everything, as of this day; the last time of a day stays. */
export async function keepLensDays(ctx: Context): Promise<void> {
  const day = ctx.now().toISOString().slice(0, 10);
  const rows = await ctx.store.all(
    z.object({ content: JsonColumn(KeptLens) }),
    'SELECT content FROM lens ORDER BY id LIMIT ?',
    [MOST_LENSES],
  );
  for (const lens of [EVERYTHING, ...rows.map((r) => r.content.lens)]) {
    const asked = { lens, today: day, sources: null };
    const figures = await askLens(ctx, { ...asked, ask: { what: 'figures' } });
    const ids = await askLens(ctx, { ...asked, ask: { what: 'ids' } });
    await ctx.store.run(
      'REPLACE INTO lens_day (line_hash, day, items, figures, kept_at) VALUES (?, ?, ?, ?, ?)',
      [
        lineHash(lens),
        day,
        deflateSync(ids),
        JSON.stringify({
          items: figures.items,
          people: figures.people.people,
          data: [...figures.data],
          documents: [...figures.documents],
        } satisfies Figures),
        toDatetime(ctx.now()),
      ],
    );
  }
  const old = new Date(ctx.now().getTime() - EACH_DAY * 86_400_000).toISOString().slice(0, 10);
  await ctx.store.run('DELETE FROM lens_day WHERE day < ? AND DAYOFMONTH(day) <> 1', [old]);
}

/** Days before this one on which it was kept what was in a lens, the latest first. */
export async function keptDays(store: Queries, line: string): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ day: z.string() }),
    "SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day FROM lens_day WHERE line_hash = ? ORDER BY day DESC LIMIT 400",
    [lineHash(readLens(line))],
  );
  return rows.map((r) => r.day);
}

export interface Compared {
  readonly then: Figures;
  readonly now: Figures;
  /** How many items came into the lens, how many left it and are still held, and how many are held no more. */
  readonly came: number;
  readonly left: number;
  readonly gone: number;
  /** Of kinds of data and of documents that differ: how many items before and now. */
  readonly data: readonly Difference[];
  readonly documents: readonly Difference[];
}

export interface Difference {
  readonly value: string;
  readonly then: number;
  readonly now: number;
}

/** A lens on two days; `until` absent for now. Throws a RefusedError for a day that was not kept. */
export async function compareLens(
  ctx: Context,
  account: Account,
  line: string,
  since: string,
  until: string | undefined,
): Promise<Compared> {
  const lens = readLens(line);
  const then = await keptFigures(ctx.store, lens, since);
  const thenItems = await keptItems(ctx.store, lens, since);
  const now =
    until === undefined ? await figuresNow(ctx, account, line) : await keptFigures(ctx.store, lens, until);
  const later = until === undefined ? null : await keptItems(ctx.store, lens, until);
  const today = ctx.now().toISOString().slice(0, 10);
  const count = (which: 'came' | 'left') =>
    askLens(ctx, {
      lens,
      today,
      sources: null,
      against: { then: thenItems, later, which },
      ask: { what: 'count' },
    });
  return {
    then,
    now,
    came: await count('came'),
    left: await count('left'),
    gone: await askLens(ctx, { lens, today, sources: null, ask: { what: 'missing', of: thenItems } }),
    data: differences(then.data, now.data),
    documents: differences(then.documents, now.documents),
  };
}

async function keptFigures(store: Queries, lens: Lens, day: string): Promise<Figures> {
  const row = await store.one(
    z.object({ figures: JsonColumn(Figures) }),
    'SELECT figures FROM lens_day WHERE line_hash = ? AND day = ?',
    [lineHash(lens), day],
  );
  return row?.figures ?? { items: 0, people: 0, data: [], documents: [] };
}

async function figuresNow(ctx: Context, account: Account, line: string): Promise<Figures> {
  const { items, people, data, documents } = await explorerFigures(ctx, account, line);
  return { items, people: people.people, data: [...data], documents: [...documents] };
}

/** What differs, the greatest difference first. */
export function differences(then: readonly Counted[], now: readonly Counted[]): readonly Difference[] {
  const all = new Map<string, { then: number; now: number }>();
  for (const { value, count } of then) all.set(value, { then: count, now: 0 });
  for (const { value, count } of now) all.set(value, { then: all.get(value)?.then ?? 0, now: count });
  return [...all]
    .filter(([, d]) => d.then !== d.now)
    .map(([value, d]) => ({ value, ...d }))
    .sort((a, b) => Math.abs(b.now - b.then) - Math.abs(a.now - a.then) || (a.value < b.value ? -1 : 1));
}
