import { z } from 'zod';
import { EventParts, type ActivityEvent } from '../../../core/protection/activity/event.ts';
import { Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';

/** An event as it is kept: with the device that told of it, 0 for none. */
export interface KeptEvent {
  readonly event: ActivityEvent;
  readonly device: number;
  /** For how many days a rule keeps it; where absent its kind says that. */
  readonly keepDays?: number;
}

/** What no column of its own holds. */
const Detail = EventParts.pick({
  ...{ towards: true, program: true, network: true, item: true, findings: true, rules: true },
  ...{ counted: true, reason: true, change: true },
});

const AT_ONCE = 500;

/** Writes events in the caller's transaction; one that is kept already stays as it is. How many are new. */
export async function insertEvents(tx: Queries, now: Date, events: readonly KeptEvent[]): Promise<number> {
  let added = 0;
  for (let from = 0; from < events.length; from += AT_ONCE) {
    const part = events.slice(from, from + AT_ONCE);
    const { changed } = await tx.run(
      'INSERT IGNORE INTO activity_event (at, id, taken_at, kind, person, act, channel, device_id, outcome, answer, rule_id, level, detail, keep_days) VALUES ?',
      [part.map((kept) => rowOf(kept, now))],
    );
    added += changed;
    const found = part.flatMap(({ event }) =>
      event.findings.map(
        (f) => [f.detector, toDatetime(event.at), Buffer.from(event.id, 'hex'), f.matches] as const,
      ),
    );
    for (let f = 0; f < found.length; f += AT_ONCE * 4)
      await tx.run('INSERT IGNORE INTO activity_finding (detector, at, id, matches) VALUES ?', [
        found.slice(f, f + AT_ONCE * 4),
      ]);
  }
  await countEventsKept(tx, added);
  return added;
}

/** Has lookouts see events that are new, in the caller's transaction. */
export async function queueForLookouts(tx: Queries, now: Date, events: readonly KeptEvent[]): Promise<void> {
  if (events.length === 0) return;
  await tx.run('INSERT INTO activity_batch (taken_at, events) VALUES (?, ?)', [
    toDatetime(now),
    JSON.stringify(events.map(({ event: { at, id } }) => [at, id])),
  ]);
}

/** The kept count goes with every change, so that nobody counts them all. */
export async function countEventsKept(tx: Queries, change: number): Promise<void> {
  if (change !== 0) await tx.run('UPDATE activity_count SET n = n + ? WHERE id = 1', [change]);
}

function rowOf({ event: e, device, keepDays }: KeptEvent, now: Date) {
  const { towards, program, network, item, findings, rules, counted, reason, change } = e;
  return [
    ...[
      toDatetime(e.at),
      Buffer.from(e.id, 'hex'),
      toDatetime(now),
      e.kind,
      e.person,
      e.act,
      e.channel ?? '',
    ],
    ...[device, e.outcome, e.answer ?? '', Number(rules[0]?.rule ?? 0), item?.level ?? ''],
    JSON.stringify({ towards, program, network, item, findings, rules, counted, reason, change }),
    keepDays ?? null,
  ];
}

export const EVENT_COLUMNS =
  'e.at, e.id, e.kind, e.person, e.act, e.channel, e.device_id, e.outcome, e.answer, e.detail';

type Detail = z.infer<typeof Detail>;

/** Rows of before tell of no change. */
const detailOf = (detail: Detail): Detail => ({ ...detail, change: detail.change ?? null });

/** A row, with its detail read by a schema. */
const rowWith = <T extends z.ZodType<Detail>>(detail: T) =>
  z
    .object({
      at: Instant,
      id: Bytes,
      kind: z.string(),
      person: z.string(),
      act: z.string(),
      channel: z.string(),
      device_id: z.number(),
      outcome: z.string(),
      answer: z.string(),
      detail: JsonColumn(detail),
    })
    .transform((r): KeptEvent => ({
      device: r.device_id,
      event: {
        ...detailOf(r.detail),
        ...{
          id: r.id.toString('hex'),
          at: r.at,
          person: r.person,
          outcome: r.outcome,
          act: r.act,
          kind: r.kind,
        },
        ...{ channel: r.channel || null, answer: r.answer || null },
      } as ActivityEvent,
    }));

export const EventRow = rowWith(Detail);
/** For reading very many: what stands in the column went through the schema as it was written. */
const ReplayedRow = rowWith(z.custom<Detail>((d) => typeof d === 'object' && d !== null));

const PAIRS_AT_ONCE = 200;

/** Events by their times and numbers, the oldest first; those that are kept. */
export async function findEvents(
  store: Queries,
  pairs: readonly (readonly [at: string, id: string])[],
): Promise<readonly KeptEvent[]> {
  const found: KeptEvent[] = [];
  for (let from = 0; from < pairs.length; from += PAIRS_AT_ONCE) {
    // Written out: MariaDB makes no use of an index for a list of rows.
    const where = new Where().andAny(
      ...pairs
        .slice(from, from + PAIRS_AT_ONCE)
        .map(([at, id]) => ['(e.at = ? AND e.id = ?)', toDatetime(at), Buffer.from(id, 'hex')] as const),
    );
    found.push(
      ...(await store.all(
        EventRow,
        `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE ${where.sql}`,
        where.params,
      )),
    );
  }
  return found.toSorted((a, b) => (a.event.at < b.event.at ? -1 : a.event.at > b.event.at ? 1 : 0));
}

/** One event by its number and time; `undefined` where it is not kept, or not any more. */
export async function findEvent(store: Queries, at: string, id: string): Promise<KeptEvent | undefined> {
  return store.one(EventRow, `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE e.at = ? AND e.id = ?`, [
    toDatetime(at),
    Buffer.from(id, 'hex'),
  ]);
}

const READ_AT_ONCE = 2000;

const COLUMN_OF = {
  ...{ channels: 'e.channel', kinds: 'e.kind', acts: 'e.act', outcomes: 'e.outcome', answers: 'e.answer' },
} as const;

/** Which of them are asked for; any of what is not said. */
export type EventsOnly = Partial<Record<keyof typeof COLUMN_OF, readonly string[]>> & {
  readonly person?: string;
};

/** What was done from a time on and before another, the oldest first, in parts. */
export async function* eventsSince(
  store: Queries,
  since: Date,
  until: Date,
  only: EventsOnly = {},
): AsyncGenerator<readonly KeptEvent[]> {
  const where = new Where();
  if (only.person !== undefined) where.and('e.person = ?', only.person);
  for (const [field, values] of Object.entries(COLUMN_OF)) {
    const among = only[field as keyof typeof COLUMN_OF];
    if (among?.length === 0) return;
    if (among) where.among(values, among);
  }
  let after: readonly [string, Buffer] = [toDatetime(since), Buffer.alloc(16)];
  for (;;) {
    const rows = await store.all(
      ReplayedRow,
      `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE e.at >= ? AND (e.at > ? OR e.id > ?) AND e.at < ? AND ${where.sql} ORDER BY e.at, e.id LIMIT ${READ_AT_ONCE}`,
      [after[0], after[0], after[1], toDatetime(until), ...where.params],
    );
    if (rows.length > 0) yield rows;
    const last = rows.at(-1);
    if (!last || rows.length < READ_AT_ONCE) return;
    after = [toDatetime(last.event.at), Buffer.from(last.event.id, 'hex')];
  }
}
