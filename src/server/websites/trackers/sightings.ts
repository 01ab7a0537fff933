import { TIME_LIMIT } from '../crawl/crawl-limits.ts';
import { createHash } from 'node:crypto';
import { z } from 'zod';
import { causeKey } from '../../../core/websites/sweeps/sweep-report.ts';
import {
  MOMENTS,
  TRACKER_KINDS,
  trackerKey,
  type ObservedTracker,
  type Party,
  type Sighting,
  type TrackerKey,
} from '../../../core/websites/trackers/tracker.ts';
import { visitorBits, VISITORS } from '../../../core/websites/trackers/visitor.ts';
import type { Context } from '../../context.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { CrawlResult } from '../crawl/crawl-plan.ts';
import type { Sweep, SweepNote } from '../sweeps/sweeps.ts';

/** Stores what one visitor found, whole or not at all. */
export async function storeCrawl(ctx: Context, sweep: Sweep, result: CrawlResult): Promise<void> {
  const now = toDatetime(ctx.now());
  const { visitor, picture } = result;
  await ctx.store.transaction(async (tx) => {
    await tx.run('DELETE FROM sweep_page WHERE sweep_id = ? AND visitor = ?', [sweep.id, visitor]);
    const pages = result.pages.map((p, i) => [
      sweep.id,
      visitor,
      i,
      p.url.slice(0, 2000),
      p.status,
      p.note.slice(0, 300),
    ]);
    for (const part of chunks(pages, 500))
      await tx.run('INSERT INTO sweep_page (sweep_id, visitor, number, url, status, note) VALUES ?', [part]);
    for (const part of chunksOfSize(result.sightings, 500, MOST_TEXT))
      await storeSightings(tx, sweep, now, part);
    if (picture)
      await tx.run('REPLACE INTO sweep_picture (sweep_id, visitor, jpeg, digest) VALUES (?, ?, ?, ?)', [
        sweep.id,
        visitor,
        picture,
        createHash('sha256').update(picture).digest(),
      ]);
    const notes: SweepNote[] = result.notes.map((words) => ({
      ...{ visitor, words },
      ...(result.incomplete && words === TIME_LIMIT ? { incomplete: true } : {}),
    }));
    if (!result.couldChoose)
      notes.push({
        visitor,
        words: result.whyNot,
        untried: true,
      });
    await tx.run(
      `UPDATE sweep SET notes = JSON_MERGE_PRESERVE(notes, ?), operated = JSON_SET(operated, ?, ?),
         trackers = (SELECT COUNT(*) FROM swept_tracker WHERE sweep_id = ?),
         pages = (SELECT COUNT(DISTINCT url) FROM sweep_page WHERE sweep_id = ?) WHERE id = ?`,
      [JSON.stringify(notes), `$.${visitor}`, result.operated, sweep.id, sweep.id, sweep.id],
    );
  });
}

/** What makes a tracker the same on another site: its host only where that is another company's. */
export function sharedIdentity({ kind, name, host }: TrackerKey, party: Party): Buffer {
  return createHash('sha256')
    .update(`${kind}\n${party === 'third' ? host : ''}\n${name}`)
    .digest();
}

export function trackerIdentity(key: TrackerKey): Buffer {
  return createHash('sha256').update(trackerKey(key)).digest();
}

const NO_PROPOSAL = '{"purpose":null,"confidence":0,"essential":0.5,"reasons":[]}';

/** Stores sightings of a sweep in the caller's transaction. */
export async function storeSightings(
  tx: Queries,
  sweep: Pick<Sweep, 'id' | 'site_id'>,
  now: string,
  part: CrawlResult['sightings'],
): Promise<void> {
  if (part.length === 0) return;
  const keyed = part.map((t) => ({ ...t, identity: trackerIdentity(t) }));
  await tx.run(
    'INSERT INTO tracker (site_id, identity, shared, kind, name, host, proposal, first_seen, last_seen) VALUES ? ON DUPLICATE KEY UPDATE last_seen = GREATEST(last_seen, VALUES(last_seen)), first_seen = LEAST(first_seen, VALUES(first_seen)), shared = VALUES(shared)',
    [
      keyed.map((t) => [
        sweep.site_id,
        t.identity,
        sharedIdentity(t, t.sighting.party),
        t.kind,
        t.name,
        t.host,
        NO_PROPOSAL,
        now,
        now,
      ]),
    ],
  );
  const ids = await tx.all(
    z.object({ id: z.number(), identity: z.instanceof(Buffer) }),
    'SELECT id, identity FROM tracker WHERE site_id = ? AND identity IN (?)',
    [sweep.site_id, keyed.map((t) => t.identity)],
  );
  const idOf = new Map(ids.map((r) => [r.identity.toString('hex'), r.id]));
  const rows = keyed.map((t) => ({ ...t.sighting, id: idOf.get(t.identity.toString('hex')) as number }));
  await tx.run(
    `INSERT INTO swept_tracker (sweep_id, tracker_id, seen, refused, party, lifetime, pages, cause) VALUES ?
     ON DUPLICATE KEY UPDATE seen = seen | VALUES(seen), refused = refused | VALUES(refused),
       lifetime = GREATEST(COALESCE(lifetime, VALUES(lifetime)), COALESCE(VALUES(lifetime), lifetime)),
       pages = GREATEST(pages, VALUES(pages)), cause = IF(cause = '', VALUES(cause), cause)`,
    [
      rows.map((s) => [
        sweep.id,
        s.id,
        visitorBits([s.visitor]),
        s.refused ? visitorBits([s.visitor]) : 0,
        s.party,
        s.lifetime,
        s.pages,
        causeKey(s.cause).slice(0, 2000),
      ]),
    ],
  );
  await tx.run(
    `INSERT INTO sighting (sweep_id, tracker_id, visitor, pages, first_page, party, lifetime, set_by, value_length, value_bits, cause, resource, moment, refused, detail) VALUES ?
     ON DUPLICATE KEY UPDATE pages = VALUES(pages)`,
    [
      rows.map((s) => [
        sweep.id,
        s.id,
        s.visitor,
        s.pages,
        s.firstPage.slice(0, 2000),
        s.party,
        s.lifetime,
        s.setBy,
        s.valueLength,
        s.valueBits,
        JSON.stringify(s.cause.map((c) => ({ ...c, url: c.url.slice(0, 2000) }))),
        s.resource.slice(0, 30),
        s.moment,
        s.refused.slice(0, 300),
        JSON.stringify({
          cookie: s.cookie,
          blockable: s.blockable,
          alias: s.alias,
          sends: s.sends,
          onPages: s.onPages,
        }),
      ]),
    ],
  );
}

const Cause = z.object({
  what: z.enum(['page', 'script', 'frame', 'style', 'response']),
  url: z.string(),
  line: z.number().optional(),
});
const Detail = z.object({
  cookie: z
    .object({
      httpOnly: z.boolean(),
      secure: z.boolean(),
      sameSite: z.enum(['strict', 'lax', 'none', 'unset']),
      partitioned: z.boolean(),
    })
    .nullable()
    .default(null),
  blockable: z.boolean().default(false),
  alias: z.string().default(''),
  sends: z
    .array(
      z.object({
        kind: z.enum(TRACKER_KINDS),
        name: z.string(),
        host: z.string(),
        where: z.string(),
        as: z.enum(['itself', 'base64', 'MD5', 'SHA-1', 'SHA-256']),
      }),
    )
    .default([]),
  onPages: z.array(z.string()).default([]),
});
const SightingRow = z.object({
  tracker_id: z.number(),
  kind: z.enum(TRACKER_KINDS),
  name: z.string(),
  host: z.string(),
  visitor: z.enum(VISITORS),
  pages: z.number(),
  first_page: z.string(),
  party: z.enum(['first', 'third']),
  lifetime: z.number().nullable(),
  set_by: z.enum(['http', 'script', 'page']),
  value_length: z.number(),
  value_bits: z.number(),
  cause: JsonColumn(z.array(Cause)),
  resource: z.string(),
  moment: z.enum(MOMENTS),
  refused: z.string(),
  detail: JsonColumn(Detail),
});
const SIGHTING_SQL = `SELECT s.tracker_id, t.kind, t.name, t.host, s.visitor, s.pages, s.first_page, s.party, s.lifetime, s.set_by, s.value_length, s.value_bits, s.cause, s.resource, s.moment, s.refused, s.detail
  FROM sighting s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ?`;

export interface Observed {
  readonly id: number;
  readonly tracker: ObservedTracker;
}

/** What the sweep saw, a tracker each; bounded by the collector's limit on kinds of trackers. */
export async function observedIn(store: Queries, sweepId: number): Promise<Observed[]> {
  const byId = new Map<number, { id: number; tracker: ObservedTracker & { sightings: Sighting[] } }>();
  for (const r of await store.all(SightingRow, `${SIGHTING_SQL} ORDER BY s.tracker_id`, [sweepId])) {
    const entry = byId.get(r.tracker_id) ?? {
      id: r.tracker_id,
      tracker: { kind: r.kind, name: r.name, host: r.host, sightings: [] },
    };
    entry.tracker.sightings.push(toSighting(r));
    byId.set(r.tracker_id, entry);
  }
  const order = (s: Sighting) => VISITORS.indexOf(s.visitor);
  for (const { tracker } of byId.values()) tracker.sightings.sort((a, b) => order(a) - order(b));
  return [...byId.values()];
}

export async function sightingsOf(store: Queries, sweepId: number, trackerId: number): Promise<Sighting[]> {
  const rows = await store.all(SightingRow, `${SIGHTING_SQL} AND s.tracker_id = ?`, [sweepId, trackerId]);
  return rows.map(toSighting).toSorted((a, b) => VISITORS.indexOf(a.visitor) - VISITORS.indexOf(b.visitor));
}

function toSighting(r: z.infer<typeof SightingRow>): Sighting {
  return {
    visitor: r.visitor,
    pages: r.pages,
    firstPage: r.first_page,
    party: r.party,
    lifetime: r.lifetime,
    setBy: r.set_by,
    valueLength: r.value_length,
    valueBits: r.value_bits,
    cause: r.cause,
    resource: r.resource,
    moment: r.moment,
    refused: r.refused,
    ...r.detail,
  };
}

export function* chunks<T>(list: readonly T[], size: number): Generator<readonly T[]> {
  for (let at = 0; at < list.length; at += size) yield list.slice(at, at + size);
}

/** Text in one statement: well below what a server takes as a packet. */
const MOST_TEXT = 8_000_000;

/** Parts of at most so many, whose JSON is at most so long, but for a single one that is longer. */
export function* chunksOfSize<T>(list: readonly T[], most: number, size: number): Generator<readonly T[]> {
  let part: T[] = [];
  let taken = 0;
  for (const one of list) {
    const more = JSON.stringify(one).length;
    if (part.length > 0 && (part.length >= most || taken + more > size)) {
      yield part;
      part = [];
      taken = 0;
    }
    part.push(one);
    taken += more;
  }
  if (part.length > 0) yield part;
}
