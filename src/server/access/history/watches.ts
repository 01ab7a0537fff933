import { z } from 'zod';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { askAccess } from '../index/ask-access.ts';
import { accessKey, behindTrail, keyText, trailOf } from '../keys.ts';

const Row = z.object({ place: z.string(), place_key: Bytes, trail: Bytes, days: z.number(), since: Instant });
type Watch = z.infer<typeof Row>;

function allWatches(store: Queries): Promise<readonly Watch[]> {
  return store.all(Row, 'SELECT place, place_key, trail, days, since FROM access_watch');
}

/** For how long changes are kept at a place, and where that is said. */
export interface WatchView {
  readonly days: number | null;
  readonly since: string | null;
  /** The place that it is said at; null where that is the place itself, or nothing is said. */
  readonly at: { readonly key: string; readonly name: string } | null;
}

export async function watchOf(ctx: Context, key: string): Promise<WatchView> {
  const { path, id } = await askAccess(ctx, 'place', { key });
  const own = accessKey(id);
  const above = [...path.map((p) => Buffer.from(p.key, 'base64url')), own].toReversed();
  const watches = await allWatches(ctx.store);
  for (const one of above) {
    const found = watches.find((w) => w.place_key.equals(one));
    if (!found) continue;
    const at = path.find((p) => p.key === keyText(one));
    return { days: found.days === 0 ? null : found.days, since: found.since, at: at ?? null };
  }
  return { days: null, since: null, at: null };
}

/** Has changes at a place and below kept for so many days; none with 0; as is said above it with null. */
export async function watchPlace(ctx: Context, by: number, key: string, days: number | null): Promise<void> {
  const { path, id } = await askAccess(ctx, 'place', { key });
  const trail = Buffer.concat([
    ...path.slice(0, 59).map((p) => Buffer.from(p.key, 'base64url')),
    trailOf([id]),
  ]);
  await ctx.store.transaction(async (tx) => {
    if (days === null) await tx.run('DELETE FROM access_watch WHERE place_key = ?', [accessKey(id)]);
    else
      await tx.run(
        'INSERT INTO access_watch (place, place_key, trail, days, since) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE days = VALUES(days), trail = VALUES(trail)',
        [id, accessKey(id), trail, days, toDatetime(ctx.now())],
      );
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'access-watch.set', object: 'access watch', objectId: keyText(accessKey(id)) },
      detail: { days },
    });
  });
}

const DAY = 86_400_000;
/** Where nothing is watched, changes are told for so long. */
const UNWATCHED_DAYS = 2;
const AT_ONCE = 5000;

/** Lets go of changes whose days are over: the nearest watch above each says how many. */
export async function forgetOldChanges(ctx: Context): Promise<void> {
  const { store } = ctx;
  const watches = await allWatches(store);
  const before = (days: number) => toDatetime(new Date(ctx.now().getTime() - days * DAY));
  const within = (w: Watch) => [w.trail, behindTrail(w.trail)] as const;
  const isBelow = (w: Watch, up: Watch) =>
    w !== up && w.trail.length > up.trail.length && w.trail.subarray(0, up.trail.length).equals(up.trail);
  const inner = (of: readonly Watch[]) => ({
    sql: of.map(() => ' AND NOT (trail >= ? AND trail < ?)').join(''),
    params: of.flatMap((w) => [...within(w)]),
  });
  for (const w of watches) {
    const below = inner(watches.filter((o) => isBelow(o, w)));
    await store.run(
      `DELETE FROM access_event WHERE trail >= ? AND trail < ? AND seen_at < ?${below.sql} LIMIT ${AT_ONCE}`,
      [...within(w), before(w.days), ...below.params],
    );
  }
  const any = inner(watches);
  await store.run(`DELETE FROM access_event WHERE trail <> '' AND seen_at < ?${any.sql} LIMIT ${AT_ONCE}`, [
    before(UNWATCHED_DAYS),
    ...any.params,
  ]);
  // Memberships and accounts are at no place, and lines that went may be asked about on any day that is kept.
  const longest = Math.max(UNWATCHED_DAYS, ...watches.map((w) => w.days));
  await store.run(`DELETE FROM access_event WHERE trail = '' AND seen_at < ? LIMIT ${AT_ONCE}`, [
    before(longest),
  ]);
  await store.run(`DELETE FROM access_line WHERE went > 0 AND until < ? LIMIT ${AT_ONCE}`, [before(longest)]);
  await store.run('UPDATE access_source SET known_since = ? WHERE known_since < ?', [
    before(longest),
    before(longest),
  ]);
}
