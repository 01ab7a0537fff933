import { z } from 'zod';
import { canonicalDigest } from '../../../core/evidence/canonical.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { ranTooEarly, VisitCourse, VisitWish } from '../../../core/websites/visits/visit.ts';
import type { Context } from '../../context.ts';
import { proveEntry, record } from '../../evidence/ledger.ts';
import type { EntryProof } from '../../../core/evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import { BigId, Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite } from '../sites/sites.ts';

const Row = z.object({
  id: z.number(),
  state: z.enum(['waiting', 'running', 'complete', 'cancelled', 'failed']),
  wish: JsonColumn(VisitWish),
  too_early: z.number(),
  started_by: z.string().nullable(),
  created_at: Instant,
  finished_at: Instant.nullable(),
});
export type ListedVisit = z.infer<typeof Row>;

const SELECT =
  'SELECT v.id, v.state, v.wish, v.too_early, a.name AS started_by, v.created_at, v.finished_at FROM visit v LEFT JOIN account a ON a.id = v.started_by';

/** The visits of a site, the newest first. */
export async function listVisits(store: Queries, host: string): Promise<ListedVisit[]> {
  const site = await findSite(store, host);
  return store.all(Row, `${SELECT} WHERE v.site_id = ? ORDER BY v.id DESC LIMIT 50`, [site.id]);
}

export interface KeptVisit {
  readonly visit: ListedVisit;
  readonly course: VisitCourse | null;
  /** Of the same pages and region before; `null` where there was none. */
  readonly before: VisitCourse | null;
  /** SHA-256 over the course's canonical JSON, in hexadecimal, as the ledger keeps it. */
  readonly digest: string;
  readonly matches: boolean;
  readonly proof: EntryProof | undefined;
  readonly ledgerId: string;
}

/** A visit with its course, the one before it, and its proof. Throws a RefusedError (404). */
export async function readVisit(store: Queries, host: string, id: number): Promise<KeptVisit> {
  const site = await findSite(store, host);
  const row = await store.one(
    Row.extend({
      course: JsonColumn(VisitCourse).nullable(),
      digest: Bytes.nullable(),
      ledger_id: BigId.nullable(),
    }),
    `${SELECT.replace(' FROM visit', ', v.course, v.digest, v.ledger_id FROM visit')} WHERE v.site_id = ? AND v.id = ?`,
    [site.id, id],
  );
  if (!row) throw notFound('visit');
  const { course, digest, ledger_id, ...visit } = row;
  const before = await store.one(
    z.object({ course: JsonColumn(VisitCourse) }),
    "SELECT course FROM visit WHERE site_id = ? AND id < ? AND state = 'complete' AND wish = ? ORDER BY id DESC LIMIT 1",
    [site.id, id, JSON.stringify(row.wish)],
  );
  return {
    ...{ visit, course, before: before?.course ?? null },
    digest: digest?.toString('hex') ?? '',
    matches: course !== null && digest !== null && courseDigest(course) === digest.toString('hex'),
    ledgerId: String(ledger_id ?? ''),
    proof: ledger_id === null ? undefined : await proveEntry(store, ledger_id),
  };
}

export function courseDigest(course: VisitCourse): string {
  return canonicalDigest(course);
}

/** Queues a visit. Throws a RefusedError (400, 409). */
export async function startVisitOf(
  ctx: Context,
  accountId: number,
  host: string,
  wish: VisitWish,
): Promise<{ visit: number; job: string }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const codes = (await listPurposes(tx)).map((p) => p.code);
    const wrong = wish.chosen.find((c) => !codes.includes(c));
    if (wrong !== undefined)
      throw new RefusedError('There is no such purpose.', [
        { field: 'chosen', message: `“${wrong}” is none of ${codes.join(', ')}.` },
      ]);
    const open = await tx.one(
      z.object({ id: z.number() }),
      "SELECT v.id FROM visit v JOIN job j ON j.id = v.job_id WHERE v.site_id = ? AND v.state IN ('waiting', 'running') AND j.state IN ('waiting', 'running') LIMIT 1",
      [site.id],
    );
    if (open) throw new RefusedError(`${host} is being visited already.`, [], 409);
    const { id } = await tx.run(
      "INSERT INTO visit (site_id, state, wish, started_by, created_at) VALUES (?, 'waiting', ?, ?, ?)",
      [site.id, JSON.stringify(wish), accountId, toDatetime(ctx.now())],
    );
    const job = await addJob(tx, ctx.now(), {
      kind: 'visit',
      title: `Visit of ${host}`,
      about: { object: 'site', id: site.id },
      within: [{ kind: 'site', id: String(site.id) }],
      payload: { visit: id },
      createdBy: accountId,
      link: `/websites/${host}?tab=visits&visit=${id}`,
      maxAttempts: 2,
    });
    await tx.run('UPDATE visit SET job_id = ? WHERE id = ?', [job, id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'visit.start',
      object: 'site',
      objectId: site.id,
      detail: { visit: id, ...wish },
    });
    return { visit: id, job };
  });
}

/** Keeps the course of a visit, once, with its digest in the ledger. */
export async function endVisit(
  tx: Queries,
  ctx: Context,
  id: number,
  state: 'complete' | 'cancelled' | 'failed',
  course: VisitCourse | undefined,
): Promise<void> {
  const row = await tx.one(
    z.object({ site_id: z.number(), state: z.string() }),
    'SELECT site_id, state FROM visit WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row || row.state === 'complete' || row.state === 'cancelled' || row.state === 'failed') return;
  const early = new Set(course?.lanes.flatMap((l) => l.events.filter(ranTooEarly).map((e) => e.key))).size;
  const digest = course && courseDigest(course);
  const entry = await record(tx, ctx.now(), {
    actor: 'worker',
    action: 'visit.end',
    object: 'site',
    objectId: row.site_id,
    detail: { visit: id, state, tooEarly: early, course: digest ?? null },
  });
  await tx.run(
    'UPDATE visit SET state = ?, course = ?, too_early = ?, digest = ?, ledger_id = ?, finished_at = ? WHERE id = ?',
    [
      ...[state, course ? JSON.stringify(course) : null, early],
      ...[digest ? Buffer.from(digest, 'hex') : null, entry, toDatetime(ctx.now()), id],
    ],
  );
}

/** What the last visit saw of a tag. */
export interface TagRan {
  readonly visit: number;
  readonly at: string;
  /** The worst of what was seen: ran too early before waiting, waiting before running as it may. */
  readonly outcome: 'too early' | 'waited' | 'reduced' | 'ran';
}

/** Of each tag, by host and name, what the newest complete visit saw. */
export async function lastTags(store: Queries, siteId: number): Promise<ReadonlyMap<string, TagRan>> {
  const row = await store.one(
    z.object({ id: z.number(), course: JsonColumn(VisitCourse), finished_at: Instant }),
    "SELECT id, course, finished_at FROM visit WHERE site_id = ? AND state = 'complete' ORDER BY id DESC LIMIT 1",
    [siteId],
  );
  const found = new Map<string, TagRan>();
  const rank: readonly TagRan['outcome'][] = ['ran', 'reduced', 'waited', 'too early'];
  for (const event of row?.course.lanes.flatMap((l) => l.events) ?? []) {
    if ((event.what !== 'ran' && event.what !== 'held') || !row) continue;
    const outcome = ranTooEarly(event)
      ? 'too early'
      : event.verdict === 'reduced'
        ? 'reduced'
        : event.what === 'held'
          ? 'waited'
          : 'ran';
    const key = `${event.host}\n${event.name}`;
    const known = found.get(key);
    if (!known || rank.indexOf(outcome) > rank.indexOf(known.outcome))
      found.set(key, { visit: row.id, at: row.finished_at, outcome });
  }
  return found;
}
