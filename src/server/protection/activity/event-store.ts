import { z } from 'zod';
import { EventParts, type ActivityEvent } from '../../../core/protection/activity/event.ts';
import { CHANNELS } from '../../../core/protection/handling/channel.ts';
import { Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** An event as it is kept: with the device that told of it, 0 for none. */
export interface KeptEvent {
  readonly event: ActivityEvent;
  readonly device: number;
}

/** What no column of its own holds. */
const Detail = EventParts.pick({
  ...{ towards: true, program: true, network: true, item: true, findings: true, rules: true },
  ...{ counted: true, reason: true },
});

const AT_ONCE = 500;

/** Writes events in the caller's transaction; one that is kept already stays as it is. How many are new. */
export async function insertEvents(tx: Queries, now: Date, events: readonly KeptEvent[]): Promise<number> {
  let added = 0;
  for (let from = 0; from < events.length; from += AT_ONCE) {
    const part = events.slice(from, from + AT_ONCE);
    const { changed } = await tx.run(
      'INSERT IGNORE INTO activity_event (at, id, taken_at, kind, person, act, channel, device_id, outcome, answer, rule_id, level, detail) VALUES ?',
      [part.map(({ event, device }) => rowOf(event, device, now))],
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

/** The kept count goes with every change, so that nobody counts them all. */
export async function countEventsKept(tx: Queries, change: number): Promise<void> {
  if (change !== 0) await tx.run('UPDATE activity_count SET n = n + ? WHERE id = 1', [change]);
}

function rowOf(e: ActivityEvent, device: number, now: Date) {
  const { towards, program, network, item, findings, rules, counted, reason } = e;
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
    JSON.stringify({ towards, program, network, item, findings, rules, counted, reason }),
  ];
}

export const EVENT_COLUMNS =
  'e.at, e.id, e.kind, e.person, e.act, e.channel, e.device_id, e.outcome, e.answer, e.detail';

export const EventRow = z
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
    detail: JsonColumn(Detail),
  })
  .transform((r): KeptEvent => ({
    device: r.device_id,
    event: {
      ...r.detail,
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

/** One event by its number and time; `undefined` where it is not kept, or not any more. */
export async function findEvent(store: Queries, at: string, id: string): Promise<KeptEvent | undefined> {
  return store.one(EventRow, `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE e.at = ? AND e.id = ?`, [
    toDatetime(at),
    Buffer.from(id, 'hex'),
  ]);
}

const READ_AT_ONCE = 2000;

/** What was put in motion from a time on, on some ways or any, by one person or anybody, the oldest first, in parts. */
export async function* eventsSince(
  store: Queries,
  since: Date,
  until: Date,
  { channels = CHANNELS, person }: { readonly channels?: readonly string[]; readonly person?: string } = {},
): AsyncGenerator<readonly KeptEvent[]> {
  if (channels.length === 0) return;
  let after: readonly [string, Buffer] = [toDatetime(since), Buffer.alloc(16)];
  for (;;) {
    const rows = await store.all(
      EventRow,
      `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE e.at >= ? AND (e.at > ? OR e.id > ?) AND e.at < ? AND e.channel IN (?)${person === undefined ? '' : ' AND e.person = ?'} ORDER BY e.at, e.id LIMIT ${READ_AT_ONCE}`,
      [after[0], after[0], after[1], toDatetime(until), channels, ...(person === undefined ? [] : [person])],
    );
    if (rows.length > 0) yield rows;
    const last = rows.at(-1);
    if (!last || rows.length < READ_AT_ONCE) return;
    after = [toDatetime(last.event.at), Buffer.from(last.event.id, 'hex')];
  }
}
