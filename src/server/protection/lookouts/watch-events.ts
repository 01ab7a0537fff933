import { z } from 'zod';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import type { Situation } from '../../../core/protection/handling/decision.ts';
import { STEP_WORDS } from '../../../core/protection/handling/handling-rule.ts';
import { firstLookout, watchesOn } from '../../../core/protection/lookouts/lookout-content.ts';
import { isWatched, sightMs, type WatchedActs } from '../../../core/protection/lookouts/lookout.ts';
import { Watcher } from '../../../core/protection/lookouts/watcher.ts';
import type { Context } from '../../context.ts';
import { BigId, Bytes, Count, Flag, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { eventsSince, findEvents, type EventsOnly, type KeptEvent } from '../activity/event-store.ts';
import { raiseAlert, showAlerts, type Raiser } from '../alerts/raise-alert.ts';
import { standingRules } from '../../rules/rules-in-force.ts';
import { HANDLING_RULE } from '../handling/handling-rules.ts';
import { lookoutsInForce, type StandingLookout } from './lookouts.ts';
import { readPeople } from './people.ts';

const Batch = z.object({
  id: BigId,
  events: JsonColumn(z.array(z.tuple([z.string(), z.string()]))),
});

/** Has lookouts see all that came in since; each event once, in the transaction that raises what it raises. */
export async function watchNewEvents(ctx: Context): Promise<number> {
  for (let seen = 0; ;) {
    const waits = await ctx.store.one(z.object({ id: BigId }), 'SELECT id FROM activity_batch LIMIT 1');
    if (!waits) return seen;
    const lookouts = await lookoutsInForce(ctx.store);
    for (const lookout of lookouts) await openEyes(ctx, lookout);
    const [situationOf, rules] = await Promise.all([readPeople(ctx), raisingRules(ctx.store)]);
    const part = await ctx.store.transaction(async (tx) => {
      const batch = await tx.one(
        Batch,
        'SELECT id, events FROM activity_batch ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED',
      );
      if (!batch) return 0;
      const events = await findEvents(tx, batch.events);
      let raised = 0;
      for (const lookout of lookouts) raised += await seeAll(tx, ctx.now(), lookout, events, situationOf);
      raised += await raiseByRules(tx, ctx.now(), rules, events);
      if (raised > 0) await showAlerts(tx);
      await tx.run('DELETE FROM activity_batch WHERE id = ?', [batch.id]);
      return batch.events.length;
    });
    if (part === 0) return seen;
    seen += part;
  }
}

/** One lookout sees some events, the oldest first; how often it raised. What was done before it was on only counts. */
export async function seeAll(
  tx: Queries,
  now: Date,
  { id, version, since, content }: StandingLookout,
  events: readonly KeptEvent[],
  situationOf: (event: ActivityEvent) => Situation,
): Promise<number> {
  const { watch } = content;
  const watched = events.filter(
    ({ event }) => watchesOn(content, event.at.slice(0, 10)) && isWatched(watch, event, situationOf(event)),
  );
  if (watched.length === 0) return 0;
  const watcher = new Watcher(watch);
  const times = new Map(watched.map(({ event }) => [event.id, event.at]));
  const counts = watch.when.is !== 'every time';
  // Whoever else sees for this lookout waits here.
  await tx.all(
    z.object({ version: z.number() }),
    'SELECT version FROM lookout_sight WHERE lookout = ? FOR UPDATE',
    [id],
  );
  if (counts) {
    const keys = new Set(watched.map(({ event, device }) => watcher.keyOf(event, device)));
    for (const key of keys) {
      const own = watched.filter(({ event, device }) => watcher.keyOf(event, device) === key);
      await recall(tx, id, watcher, key, own, times);
    }
    await remember(tx, id, watched, (e) => watcher.keyOf(e.event, e.device));
  }
  let raised = 0;
  for (const { event, device } of watched) {
    const early = event.at < since;
    if (early && !counts) continue;
    const found = watcher.see(event, device, situationOf(event));
    if (!found || early) continue;
    raised++;
    await raiseAlert(tx, now, { id, version, since, content }, found, times);
    if (counts)
      await tx.run(
        'UPDATE lookout_seen SET used = 1 WHERE lookout = ? AND event_key = ? AND at IN (?) AND id IN (?)',
        [
          ...[id, found.key, found.events.map((e) => toDatetime(times.get(e) ?? found.at))],
          found.events.map((e) => Buffer.from(e, 'hex')),
        ],
      );
  }
  return raised;
}

const DAY = 86_400_000;

/** What a lookout remembers of one key, as far as it matters to the events at hand. */
async function recall(
  tx: Queries,
  lookout: string,
  watcher: Watcher,
  key: string,
  events: readonly KeptEvent[],
  times: Map<string, string>,
): Promise<void> {
  const at = events.map(({ event }) => Date.parse(event.at));
  const [first, last] = [Math.min(...at), Math.max(...at)];
  const byDay = watcher.watch.when.is === 'unusual';
  const sight = sightMs(watcher.watch);
  const from = new Date(first - sight);
  // Of days before those at hand only how many there were.
  const near = byDay ? new Date(Math.floor(first / DAY) * DAY) : from;
  const rows = await tx.all(
    z.object({ id: Bytes, at: Instant, used: Flag }),
    'SELECT id, at, used FROM lookout_seen WHERE lookout = ? AND event_key = ? AND at >= ? AND at <= ? ORDER BY at',
    [lookout, key, toDatetime(near), toDatetime(new Date(last + sight))],
  );
  const days = byDay
    ? await tx.all(
        z.object({ day: z.string(), n: Count }),
        'SELECT DATE(at) AS day, COUNT(*) AS n FROM lookout_seen WHERE lookout = ? AND event_key = ? AND at >= ? AND at < ? GROUP BY day',
        [lookout, key, toDatetime(from), toDatetime(near)],
      )
    : [];
  const atHand = new Set(events.map(({ event }) => event.id));
  const before = rows.map((r) => ({ ...r, id: r.id.toString('hex') })).filter((r) => !atHand.has(r.id));
  for (const r of before) times.set(r.id, r.at);
  watcher.recall(
    key,
    before.map((r) => ({ ...r, at: Date.parse(r.at) })),
    days.map((d) => ({ at: Date.parse(d.day), count: d.n })),
  );
}

/** Keeps what a lookout that counts has seen. */
export async function remember(
  tx: Queries,
  lookout: string,
  events: readonly KeptEvent[],
  keyOf: (event: KeptEvent) => string,
): Promise<void> {
  for (let from = 0; from < events.length; from += 1000)
    await tx.run('INSERT IGNORE INTO lookout_seen (lookout, event_key, at, id) VALUES ?', [
      events
        .slice(from, from + 1000)
        .map((e) => [lookout, keyOf(e), toDatetime(e.event.at), Buffer.from(e.event.id, 'hex')]),
    ]);
}

/** Handling rules that raise an alert wherever they hold, by their ids. */
async function raisingRules(store: Queries): Promise<ReadonlyMap<string, Raiser>> {
  const all = await standingRules(store, HANDLING_RULE);
  return new Map(
    all.flatMap(({ content: { name, alert }, ...rule }): [string, Raiser][] =>
      alert === null
        ? []
        : [
            [
              rule.id,
              { ...rule, kind: 'handling rule', content: { ...firstLookout(name), severity: alert } },
            ],
          ],
    ),
  );
}

async function raiseByRules(
  tx: Queries,
  now: Date,
  rules: ReadonlyMap<string, Raiser>,
  events: readonly KeptEvent[],
): Promise<number> {
  let raised = 0;
  for (const { event } of events)
    for (const { rule, wants } of event.rules) {
      const raiser = rules.get(rule);
      if (!raiser || event.at < raiser.since) continue;
      raised++;
      await raiseAlert(
        tx,
        now,
        raiser,
        {
          at: event.at,
          key: event.person,
          events: [event.id],
          because: `It held, and would ${STEP_WORDS[wants]}.`,
        },
        new Map([[event.id, event.at]]),
      );
    }
  return raised;
}

/** What of the stream can be watched at all, for the query. */
export function watchedOnly({ kinds, acts, channels, outcomes, answers }: WatchedActs): EventsOnly {
  const all = { kinds, acts, channels, outcomes, answers };
  return Object.fromEntries(Object.entries(all).filter(([, list]) => list.length > 0));
}

/** Has a lookout that came in force, or another version of it, look back as far as it counts. */
export async function openEyes(ctx: Context, lookout: StandingLookout): Promise<void> {
  const sees = () =>
    ctx.store.one(z.object({ version: z.number() }), 'SELECT version FROM lookout_sight WHERE lookout = ?', [
      lookout.id,
    ]);
  if ((await sees())?.version === lookout.version) return;
  const { watch } = lookout.content;
  const since = new Date(lookout.since);
  const seen: KeptEvent[] = [];
  const situationOf = await readPeople(ctx);
  if (watch.when.is !== 'every time')
    for await (const part of eventsSince(
      ctx.store,
      new Date(since.getTime() - sightMs(watch)),
      since,
      watchedOnly(watch),
    ))
      seen.push(...part.filter(({ event }) => isWatched(watch, event, situationOf(event))));
  const watcher = new Watcher(watch);
  await ctx.store.transaction(async (tx) => {
    await tx.run('INSERT IGNORE INTO lookout_sight (lookout, version) VALUES (?, 0)', [lookout.id]);
    const now = await tx.one(
      z.object({ version: z.number() }),
      'SELECT version FROM lookout_sight WHERE lookout = ? FOR UPDATE',
      [lookout.id],
    );
    if (now?.version === lookout.version) return;
    await tx.run('DELETE FROM lookout_seen WHERE lookout = ?', [lookout.id]);
    await remember(tx, lookout.id, seen, ({ event, device }) => watcher.keyOf(event, device));
    await tx.run('UPDATE lookout_sight SET version = ? WHERE lookout = ?', [lookout.version, lookout.id]);
  });
}

/** Forgets what no lookout counts any more. */
export async function forgetSeen(ctx: Context): Promise<void> {
  const lookouts = new Map((await lookoutsInForce(ctx.store)).map((l) => [l.id, l]));
  const kept = await ctx.store.all(z.object({ lookout: z.string() }), 'SELECT lookout FROM lookout_sight');
  for (const { lookout } of kept) {
    const on = lookouts.get(lookout);
    const before = on ? new Date(ctx.now().getTime() - sightMs(on.content.watch)) : ctx.now();
    for (let part = 5000; part === 5000;)
      part = (
        await ctx.store.run('DELETE FROM lookout_seen WHERE lookout = ? AND at < ? LIMIT 5000', [
          lookout,
          toDatetime(before),
        ])
      ).changed;
    if (!on) await ctx.store.run('DELETE FROM lookout_sight WHERE lookout = ?', [lookout]);
  }
}
