import { z } from 'zod';
import type { ListWish } from '../../../core/lists/list.ts';
import { EVENT_LIST } from '../../../core/protection/activity/event-list.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listFacets, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { toDatetime } from '../../store/columns.ts';
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
  },
};

/** What is recognised is entered by itself, and the events by it. */
function fromWhere({ filters }: ListWish): string {
  return filters['data']
    ? 'activity_event e JOIN activity_finding f ON f.at = e.at AND f.id = e.id'
    : 'activity_event e';
}

/** Newest first. */
export async function listEvents(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<KeptEvent>> {
  return listPage(store, SOURCE, wish, { base: new Where(), after, size });
}

/** Further nobody counts, however many are kept. */
export const MOST_COUNTED = 100_000;

export function countEvents(store: Queries, wish: WishInput): Promise<number> {
  return listCount(store, SOURCE, wish, new Where(), MOST_COUNTED);
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
