import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { CLOCK_OFF_MS } from '../../../core/protection/devices/device.ts';
import { ActivityEvent, type EventKind } from '../../../core/protection/activity/event.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readView } from '../view/view-rules.ts';
import { takeQuestions } from '../questions/questions.ts';
import { daysKept } from './activity-kept.ts';
import { insertEvents, queueForLookouts, type KeptEvent } from './event-store.ts';

/** Lines in one request at most. */
export const MOST_LINES = 5000;
/** No event of any kind is longer. */
const LONGEST_LINE = 64 * 1024;
/** Ahead of ours by more is no clock that is a little off. */
const FUTURE_MS = 60_000;

export interface RefusedLine {
  /** Counted from 1. */
  readonly line: number;
  readonly why: string;
}

export interface Taken {
  /** New on record. */
  readonly taken: number;
  /** On record before. */
  readonly already: number;
  /** Not kept in view, or not for so long. */
  readonly notKept: number;
  readonly refused: readonly RefusedLine[];
}

/** Who tells of events: which kinds, for whom, and by how much their clock is ahead of ours. */
export interface Teller {
  readonly kinds: readonly EventKind[];
  /** 0 for none. */
  readonly device: number;
  /** Whose acts alone it may tell; anybody’s where it is absent. */
  readonly person?: string;
  readonly aheadMs: number;
}

/**
 * Takes events, a JSON value a line, all that will do in one transaction; what will not is told line by line and keeps
 * nothing else back. Acknowledged is what is committed. Throws a RefusedError (400) where there are too many.
 */
export async function takeEvents(ctx: Context, teller: Teller, text: string): Promise<Taken> {
  const lines = text.split('\n').map((l) => l.trim());
  const told = lines.flatMap((line, i) => (line === '' ? [] : [{ line, at: i + 1 }]));
  if (told.length > MOST_LINES)
    throw new RefusedError(`Those are ${told.length} lines. Send at most ${MOST_LINES} at once.`, [], 413);
  const [kept, rules, view] = await Promise.all([daysKept(ctx.store), knownRules(ctx.store), readView(ctx)]);
  const refused: RefusedLine[] = [];
  const events = new Map<string, KeptEvent>();
  let doubled = 0;
  let notKept = 0;
  for (const { line, at } of told) {
    const read = readLine(line, teller, { now: ctx.now().getTime(), kept, longest: view.longest, rules });
    if (typeof read === 'string') refused.push({ line: at, why: read });
    else {
      const { days, by } = view.keptFor(read);
      if (days === 0 || Date.parse(read.at) < ctx.now().getTime() - days * 86_400_000) notKept++;
      else {
        if (events.has(read.id)) doubled++;
        events.set(read.id, {
          ...{ event: read, device: teller.device },
          ...(by === undefined ? {} : { keepDays: days }),
        });
      }
    }
  }
  const taken =
    events.size === 0
      ? 0
      : await ctx.store.transaction(async (tx) => {
          const fresh = await notToldBefore(tx, ctx.now(), teller.device, [...events.values()]);
          await queueForLookouts(tx, ctx.now(), fresh);
          await takeQuestions(tx, ctx.now(), fresh);
          return insertEvents(tx, ctx.now(), fresh);
        });
  return { taken, already: events.size - taken + doubled, notKept, refused };
}

/**
 * Those that a device or a program has not told before, whatever time it gave them: one whose answer was lost is sent again, and its
 * time may have been put right otherwise since. Two requests at once wait for each other here.
 */
async function notToldBefore(
  tx: Queries,
  now: Date,
  device: number,
  events: readonly KeptEvent[],
): Promise<readonly KeptEvent[]> {
  const request = randomBytes(16);
  await tx.run('INSERT IGNORE INTO activity_told (device_id, id, request, taken_at) VALUES ?', [
    events.map(({ event }) => [device, Buffer.from(event.id, 'hex'), request, toDatetime(now)]),
  ]);
  const fresh = await tx.all(
    z.object({ id: Bytes }),
    'SELECT id FROM activity_told WHERE device_id = ? AND id IN (?) AND request = ?',
    [device, events.map(({ event }) => Buffer.from(event.id, 'hex')), request],
  );
  const ids = new Set(fresh.map((f) => f.id.toString('hex')));
  return events.filter(({ event }) => ids.has(event.id));
}

interface Known {
  readonly now: number;
  readonly kept: Readonly<Record<EventKind, number>>;
  /** What the rule that keeps the longest says, in days. */
  readonly longest: number;
  readonly rules: ReadonlySet<string>;
}

/** The event of a line, or why it is none that can be taken. */
function readLine(
  line: string,
  teller: Teller,
  { now, kept, longest, rules }: Known,
): ActivityEvent | string {
  if (line.length > LONGEST_LINE) return `It is longer than ${LONGEST_LINE} characters.`;
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    return 'It is no JSON value.';
  }
  const parsed = ActivityEvent.safeParse(value);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return `${issue?.path.join('.') || 'It'}: ${issue?.message ?? 'will not do'}`;
  }
  const event = parsed.data;
  if (!teller.kinds.includes(event.kind)) return `kind: It may tell of ${teller.kinds.join(' and ')} alone.`;
  if (teller.person !== undefined && event.person !== teller.person)
    return 'person: A device tells of whose it is, and of nobody else.';
  const gone = [...event.rules, ...event.counted].find((r) => !rules.has(r.rule));
  if (gone) return `rules: There is no handling rule ${gone.rule}.`;
  const aside = Math.abs(teller.aheadMs) > CLOCK_OFF_MS ? teller.aheadMs : 0;
  const at = Date.parse(event.at) - aside;
  if (at > now + FUTURE_MS) return 'at: That is yet to come.';
  const days = Math.max(kept[event.kind], longest);
  if (days > 0 && at < now - days * 86_400_000) return `at: What is older than ${days} days is not kept.`;
  return { ...event, at: new Date(Math.min(at, now)).toISOString() };
}

async function knownRules(store: Queries): Promise<ReadonlySet<string>> {
  const rows = await store.all(
    z.object({ id: z.string() }),
    "SELECT id FROM rule WHERE kind = 'handling rule'",
  );
  return new Set(rows.map((r) => r.id));
}
