import { z } from 'zod';
import { EVENT_ACTS, EVENT_KINDS, EVENT_LIST } from '../../../core/access/history/event-list.ts';
import type { Context } from '../../context.ts';
import type { Cell } from '../../http/csv.ts';
import { listCsv, listPage, listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { BigId, Bytes, Instant } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { askAccess } from '../index/ask-access.ts';
import { behindTrail, keyText, trailOf } from '../keys.ts';

const keys = <T extends object>(of: T) => Object.keys(of) as [keyof T & string, ...(keyof T & string)[]];

const Row = z
  .object({
    id: BigId,
    at: Instant,
    seen_at: Instant,
    kind: z.enum(keys(EVENT_KINDS)),
    act: z.enum(keys(EVENT_ACTS)),
    trail: Bytes,
    place_name: z.string(),
    who_key: Bytes.nullable(),
    who_name: z.string(),
    strength: z.string(),
    initiator: z.string(),
    change_id: z.number().nullable(),
    words: z.string(),
  })
  .transform(({ trail, who_key, place_name, who_name, change_id, seen_at, ...row }) => ({
    ...row,
    seenAt: seen_at,
    place: trail.length === 0 ? null : { key: keyText(trail.subarray(-9)), name: place_name },
    who: who_key === null ? null : { key: keyText(who_key), name: who_name },
    change: change_id,
  }));
export type ListedEvent = z.infer<typeof Row>;

const SOURCE: ListSource<ListedEvent> = {
  list: EVENT_LIST,
  select:
    'e.id, e.at, e.seen_at, e.kind, e.act, e.trail, e.place_name, e.who_key, e.who_name, e.strength, e.initiator, e.change_id, e.words',
  from: 'access_event e',
  row: Row as unknown as z.ZodType<ListedEvent>,
  id: 'e.id',
  sorts: { at: 'e.at' },
  search: ['e.who_name', 'e.place_name', 'e.initiator', 'e.words'],
  filters: {
    kind: (where, value) => where.and('e.kind = ?', value),
    act: (where, value) => where.and('e.act = ?', value),
    strength: (where, value) => where.and('e.strength = ?', value),
    who: (where, value) => where.and('e.who_key = ?', Buffer.from(value, 'base64url')),
    // Where a place stands only the estate knows; see `baseOf`.
    place: () => {},
    initiator: (where, value) => where.and('e.initiator = ?', value),
    change: (where, value) => where.and('e.change_id = ?', Number(value)),
    from: (where, value) => where.and('e.at >= ?', value),
    to: (where, value) => where.and('e.at < ? + INTERVAL 1 DAY', value),
  },
};

/** That events are at a place, or below it; all where none is named. */
async function baseOf(ctx: Context, place: string | undefined): Promise<() => Where> {
  if (place === undefined || place === '') return () => new Where();
  const trail = await trailAt(ctx, place);
  return () => new Where().and('e.trail >= ? AND e.trail < ?', trail, behindTrail(trail));
}

async function trailAt(ctx: Context, key: string): Promise<Buffer> {
  const { path, id } = await askAccess(ctx, 'place', { key });
  // The keys of those above are the ends of their links.
  return Buffer.concat([...path.slice(0, 59).map((p) => Buffer.from(p.key, 'base64url')), trailOf([id])]);
}

/** What was given and taken away, a page at a time. */
export async function listEvents(
  ctx: Context,
  wish: WishInput & { readonly place?: string | undefined },
  after: string | undefined,
  size: number,
): Promise<Page<ListedEvent> & { total?: number }> {
  return listRegister(ctx.store, SOURCE, wish, { base: await baseOf(ctx, wish.place), after, size });
}

export function eventCells(e: ListedEvent): Readonly<Record<string, Cell>> {
  return {
    ...{ at: e.at, act: `${EVENT_KINDS[e.kind]} ${EVENT_ACTS[e.act]}`, words: e.words },
    ...{ place: e.place?.name ?? '', initiator: e.initiator, change: e.change ?? '' },
  };
}

export async function eventsCsv(
  ctx: Context,
  wish: WishInput & { readonly place?: string | undefined },
): Promise<AsyncGenerator<string>> {
  const base = await baseOf(ctx, wish.place);
  return listCsv(EVENT_LIST, eventCells, (after) =>
    listPage(ctx.store, SOURCE, wish, { base: base(), after, size: 1000 }),
  );
}

/** Who ever gave or took something away, the most first. */
export async function initiators(store: Queries): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ initiator: z.string() }),
    "SELECT initiator FROM access_event WHERE initiator <> '' GROUP BY initiator ORDER BY COUNT(*) DESC LIMIT 100",
  );
  return rows.map((r) => r.initiator);
}
