import { z } from 'zod';
import { listWish, type ListWish } from '../../../core/lists/list.ts';
import { holds } from '../../../core/lens/lens-item.ts';
import { parseLens } from '../../../core/lens/lens-text.ts';
import type { Lens } from '../../../core/lens/lens.ts';
import { motionFact } from '../../../core/protection/handling/motion.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { EVENT_LIST } from '../../../core/protection/activity/event-list.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listFacets, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { EVENT_COLUMNS, EventRow, type KeptEvent } from './event-store.ts';

const SOURCE: ListSource<KeptEvent> = {
  list: EVENT_LIST,
  select: EVENT_COLUMNS,
  from: fromWhere,
  row: EventRow,
  id: 'e.id',
  bytes: true,
  sorts: { at: 'e.at' },
  filters: {
    from: (where, day) => where.and('e.at >= ?', toDatetime(`${day}T00:00:00Z`)),
    to: (where, day) => where.and('e.at < ?', toDatetime(new Date(Date.parse(day) + 86_400_000))),
    person: (where, person) => where.and('e.person = ?', person.toLowerCase()),
    rule: (where, rule) => where.and('e.rule_id = ?', /^\d+$/.test(rule) ? Number(rule) : -1),
    channel: (where, channel) => where.and('e.channel = ?', channel),
    act: (where, act) => where.and('e.act = ?', act),
    outcome: (where, outcome) => where.and('e.outcome = ?', outcome),
    answer: (where, answer) => where.and('e.answer = ?', answer),
    data: (where, detector) => where.and('f.detector = ?', detector),
    level: (where, level) => where.and('e.level = ?', level),
    device: (where, device) => where.and('e.device_id = ?', /^\d+$/.test(device) ? Number(device) : -1),
    kind: (where, kind) => where.and('e.kind = ?', kind),
    // What stands in the data is looked at act by act.
    lens: () => {},
  },
};

/** What is recognised is entered by itself, and the events by it. */
function fromWhere({ filters }: ListWish): string {
  return filters['data']
    ? 'activity_event e JOIN activity_finding f ON f.at = e.at AND f.id = e.id'
    : 'activity_event e';
}

/**
 * Newest first. Through a lens so many acts are looked at for one page; where it holds for few of them a page may have fewer
 * rows than asked for, and go on. Throws a RefusedError for a lens that cannot be read.
 */
export async function listEvents(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<KeptEvent>> {
  const meets = lensOf(wish);
  const page = (from: string | undefined, rows: number) =>
    listPage(store, SOURCE, wish, { base: new Where(), after: from, size: rows });
  if (!meets) return page(after, size);
  const found: KeptEvent[] = [];
  let next = after;
  for (let looked = 0; looked < LOOKED_AT && found.length < size;) {
    const part = await page(next, LENS_PART);
    looked += LENS_PART;
    found.push(...part.rows.filter(meets));
    next = part.next ?? undefined;
    if (next === undefined) break;
  }
  return { rows: found, next: next ?? null };
}

/** Acts that are looked at through a lens, for one page or for counting. */
const LOOKED_AT = 20_000;
const LENS_PART = 1000;

/** Whether a lens that is asked for holds for an act; `undefined` where none is. Of an act without data none does. */
function lensOf(wish: WishInput): ((kept: KeptEvent) => boolean) | undefined {
  const line = listWish(EVENT_LIST, wish).filters['lens'];
  if (line === undefined) return undefined;
  const lens = readLens(line);
  const today = new Date().toISOString().slice(0, 10);
  return ({ event: { item, findings } }) =>
    item !== null && holds(lens, (fact) => motionFact({ item, findings }, fact), today);
}

function readLens(line: string): Lens {
  try {
    return parseLens(line);
  } catch (error) {
    throw new RefusedError('This lens cannot be read.', [
      { field: 'lens', message: (error as Error).message },
    ]);
  }
}

/** Further nobody counts, however many are kept. */
export const MOST_COUNTED = 100_000;

export function countEvents(store: Queries, wish: WishInput): Promise<number> {
  return listCount(store, SOURCE, wish, new Where(), MOST_COUNTED);
}

export interface EventCounts {
  readonly total: number;
  readonly facets: EventFacets;
  /** The newest so many alone were looked at through a lens; `undefined` where all were. */
  readonly among: number | undefined;
}

/** How many match, and how many of the newest each value of a filter has. */
export async function eventCounts(store: Queries, wish: WishInput): Promise<EventCounts> {
  const meets = lensOf(wish);
  if (!meets) {
    if (Object.keys(listWish(EVENT_LIST, wish).filters).length === 0) {
      const all = await store.one(z.object({ n: Count }), 'SELECT n FROM activity_count WHERE id = 1');
      return { total: all?.n ?? 0, facets: await eventFacets(store, wish), among: undefined };
    }
    const [total, facets] = await Promise.all([countEvents(store, wish), eventFacets(store, wish)]);
    return { total, facets, among: undefined };
  }
  const facets = Object.fromEntries(Object.keys(FACETS).map((f) => [f, {}])) as Record<
    keyof EventFacets,
    Record<string, number>
  >;
  let total = 0;
  let after: string | undefined;
  for (let looked = 0; looked < LOOKED_AT; looked += LENS_PART) {
    const part = await listPage(store, SOURCE, wish, { base: new Where(), after, size: LENS_PART });
    for (const { event } of part.rows.filter(meets)) {
      total++;
      for (const [facet, value] of Object.entries(facetsOf(event)))
        if (value)
          facets[facet as keyof EventFacets][value] = (facets[facet as keyof EventFacets][value] ?? 0) + 1;
    }
    if (part.next === null) return { total, facets, among: undefined };
    after = part.next;
  }
  return { total, facets, among: LOOKED_AT };
}

function facetsOf(e: KeptEvent['event']): Readonly<Record<keyof EventFacets, string | null>> {
  const { channel, act, outcome, answer, kind } = e;
  return {
    channel,
    act,
    outcome,
    answer,
    kind,
    rule: e.rules[0]?.rule ?? null,
    level: e.item?.level ?? null,
  };
}

const FACETS = {
  ...{ channel: 'e.channel', act: 'e.act', outcome: 'e.outcome', answer: 'e.answer', kind: 'e.kind' },
  ...{ rule: 'e.rule_id', level: 'e.level' },
} as const;
export type EventFacets = Readonly<Record<keyof typeof FACETS, Readonly<Record<string, number>>>>;

/** Values are counted among so many of the newest. */
const FACETED = 20_000;

/** How many of the newest matching ones each value of a filter has, by its value. */
export function eventFacets(store: Queries, wish: WishInput): Promise<EventFacets> {
  return listFacets(store, SOURCE, wish, FACETS, FACETED);
}

/** Detectors of which anything was told. */
export async function detectorsTold(store: Queries): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ detector: z.string() }),
    'SELECT detector FROM activity_finding GROUP BY detector',
  );
  return rows.map((r) => r.detector);
}

/** As a file has it. */
export function eventCells({ event: e, device }: KeptEvent): Readonly<Record<string, Cell>> {
  return {
    ...{ id: e.id, at: e.at, person: e.person, act: e.act, channel: e.channel ?? '', kind: e.kind },
    item: e.item?.name ?? '',
    found: e.findings.map((f) => `${f.detector} ${f.matches}`).join('; '),
    towards: e.towards.join('; '),
    outcome: e.outcome,
    rule: e.rules[0]?.rule ?? '',
    answer: e.answer ?? '',
    reason: e.reason,
    level: e.item?.level ?? '',
    device: device || '',
    network: e.network,
  };
}
