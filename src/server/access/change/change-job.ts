import { z } from 'zod';
import { type AccessStep } from '../../../core/access/change/access-change.ts';
import { placeOfStep, rowAfterStep, stepIdentity } from '../../../core/access/change/step-row.ts';
import type { EstateRow } from '../../../core/access/estate/estate-row.ts';
import { eventsOf } from '../../../core/access/history/access-event.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { holdsLease, type JobKind, type JobRun } from '../../jobs/runner.ts';
import { BigId, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { nextRevision } from '../estate/line-rows.ts';
import { endRows, insertEvents, insertRows, newRow, type EventSurroundings } from '../estate/write-rows.ts';
import { askAccess } from '../index/ask-access.ts';
import { idPrefix, lineKey } from '../keys.ts';
import { openReader } from '../readers/open-reader.ts';
import { ReaderError, StepRefused, type AccessReader } from '../readers/reader.ts';
import { findAccessSource } from '../sources/access-sources.ts';
import { principalNames } from '../sources/directory-people.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { CHANGE_JOB, findChange, settleChange, stepCounts, type StoredChange } from './access-changes.ts';

const Payload = z.object({ change: z.number(), source: z.number() });

/** A step that its source could not take for the moment is tried so often. */
const TRIES = 4;
const WAIT_MS = 500;

/**
 * Does the steps of a change at one source, in order, each once: a step is marked as begun before it is sent, and sent again
 * with the same name where a worker died over it.
 */
export const ACCESS_CHANGE: JobKind = {
  kind: CHANGE_JOB,
  lane: 'quick',
  see: 'access.read',
  start: 'access.change',
  async work(ctx, run) {
    const { change: id, source } = Payload.parse(run.job.payload);
    const change = await findChange(ctx.store, id);
    const done = await doSteps(ctx, run, change, source);
    return { done };
  },
  async ended(tx, ctx, job, end) {
    const { change: id, source } = Payload.parse(job.payload);
    // Of one that was cancelled, or ended otherwise, what was not done is told.
    if (end.how !== 'done')
      await tx.run(
        "UPDATE access_step SET state = 'failed', told = ? WHERE change_id = ? AND source_id = ? AND state IN ('waiting', 'begun')",
        [
          end.how === 'cancelled'
            ? 'it was cancelled before'
            : 'error' in end
              ? String(end.error).slice(0, 500)
              : 'it ended before',
          id,
          source,
        ],
      );
    await settleChange(tx, ctx, id);
    await tellIfStuck(tx, ctx, id);
  },
};

/** Today tells of what failed, or waits for somebody to do it by hand. */
export async function tellIfStuck(tx: Queries, ctx: Pick<Context, 'now'>, id: number): Promise<void> {
  const { failed = 0, ordered = 0 } = await stepCounts(tx, id);
  if (failed + ordered === 0) return takeOffToday(tx, 'access change stuck', String(id));
  const change = await findChange(tx, id);
  await putOnToday(tx, {
    ...{ kind: 'access change stuck', key: String(id), action: 'access.read', since: ctx.now() },
    words: change.name,
    detail: [
      ...(failed > 0 ? [`${failed} ${failed === 1 ? 'step' : 'steps'} failed`] : []),
      ...(ordered > 0 ? [`${ordered} to be done by hand where it is`] : []),
    ].join(', '),
    link: `/access/changes/${id}`,
    within: WHOLE_ESTATE,
  });
}

const StepRow = z.object({ n: z.number(), state: z.string() });

async function doSteps(ctx: Context, run: JobRun, change: StoredChange, sourceId: number): Promise<number> {
  let reader: AccessReader;
  try {
    reader = await openReader(ctx, await findAccessSource(ctx.store, sourceId));
  } catch (error) {
    // It may have been taken out meanwhile.
    if (!(error instanceof ReaderError || error instanceof RefusedError)) throw error;
    await failRest(ctx, change.id, sourceId, error.message);
    return 0;
  }
  if (!reader.apply) {
    // It turned out to take none: somebody has to do them where it is.
    await reader.close();
    await ctx.store.run(
      "UPDATE access_step SET state = 'ordered' WHERE change_id = ? AND source_id = ? AND state IN ('waiting', 'begun')",
      [change.id, sourceId],
    );
    return 0;
  }
  let done = 0;
  const all = change.steps.length;
  const surroundings = await surroundingsOf(ctx, change, sourceId);
  try {
    while (!run.signal.aborted) {
      const next = await takeStep(ctx, run, change.id, sourceId);
      if (!next) break;
      const step = change.steps[next.n];
      if (!step) break;
      try {
        const did = await apply(reader, `${change.id}-${next.n}`, localStep(step, sourceId));
        await writeDone(ctx, run, { change, sourceId, n: next.n, step, did, surroundings });
      } catch (error) {
        if (error instanceof ReaderError) {
          await failRest(ctx, change.id, sourceId, error.message);
          break;
        }
        if (!(error instanceof StepRefused)) throw error;
        await ctx.store.run(
          "UPDATE access_step SET state = 'failed', told = ?, at = ? WHERE change_id = ? AND n = ?",
          [error.message.slice(0, 500), toDatetime(ctx.now()), change.id, next.n],
        );
      }
      done++;
      run.progress({ words: `${done} of ${all} steps`, share: done / all, secondsLeft: null });
    }
  } finally {
    await reader.close();
  }
  return done;
}

async function apply(reader: AccessReader, id: string, step: AccessStep): Promise<'done' | 'already'> {
  if (!reader.apply) throw new StepRefused('this source takes no changes');
  for (let attempt = 1; ; attempt++)
    try {
      return await reader.apply(id, step);
    } catch (error) {
      if (!(error instanceof StepRefused) || !error.passes || attempt >= TRIES) throw error;
      await new Promise((wake) => setTimeout(wake, WAIT_MS * attempt));
    }
}

/** The next step, marked as begun; first one that a worker who died had begun. */
function takeStep(
  ctx: Context,
  run: JobRun,
  change: number,
  source: number,
): Promise<z.infer<typeof StepRow> | undefined> {
  return ctx.store.transaction(async (tx) => {
    if (!(await holdsLease(tx, run))) return undefined;
    const next = await tx.one(
      StepRow,
      `SELECT n, state FROM access_step WHERE change_id = ? AND source_id = ? AND state IN ('begun', 'waiting')
       ORDER BY n LIMIT 1 FOR UPDATE`,
      [change, source],
    );
    if (next)
      await tx.run("UPDATE access_step SET state = 'begun', at = ? WHERE change_id = ? AND n = ?", [
        toDatetime(ctx.now()),
        change,
        next.n,
      ]);
    return next;
  });
}

async function failRest(ctx: Context, change: number, source: number, why: string): Promise<void> {
  await ctx.store.run(
    "UPDATE access_step SET state = 'failed', told = ?, at = ? WHERE change_id = ? AND source_id = ? AND state IN ('waiting', 'begun')",
    [why.slice(0, 500), toDatetime(ctx.now()), change, source],
  );
}

/** What the events of all its steps are told with. */
async function surroundingsOf(
  ctx: Context,
  { id, steps, made_by }: StoredChange,
  source: number,
): Promise<EventSurroundings> {
  const maker = await ctx.store.one(z.object({ name: z.string() }), 'SELECT name FROM account WHERE id = ?', [
    made_by,
  ]);
  const places = [...new Set(steps.flatMap((s) => placeOfStep(s) ?? []))];
  const trails = await askAccess(ctx, 'trails', { ids: places });
  const byPlace = new Map(places.map((p, i) => [p, trails[i] ?? undefined]));
  const names = await principalNames(ctx.store);
  return {
    ...{ source, change: id, initiator: maker?.name ?? 'Yare Warden' },
    place: (of) => byPlace.get(of),
    person: (of) => names.get(of) ?? of,
  };
}

interface Done {
  readonly change: StoredChange;
  readonly sourceId: number;
  readonly n: number;
  readonly step: AccessStep;
  readonly did: 'done' | 'already';
  readonly surroundings: EventSurroundings;
}

/** That a step is done, with what it makes of the estate, in one transaction. */
async function writeDone(ctx: Context, run: JobRun, done: Done): Promise<void> {
  const { change, sourceId, n, step, did, surroundings } = done;
  await ctx.store.transaction(async (tx) => {
    if (!(await holdsLease(tx, run))) return;
    const { changed } = await tx.run(
      "UPDATE access_step SET state = ?, told = '', at = ? WHERE change_id = ? AND n = ? AND state = 'begun'",
      [did, toDatetime(ctx.now()), change.id, n],
    );
    if (changed === 0) return;
    const now = ctx.now();
    const revision = await nextRevision(tx);
    const rows = await rowChanges(tx, sourceId, step, now, surroundings.initiator);
    await endRows(tx, now, revision, rows.wentIds);
    await insertRows(tx, now, sourceId, revision, rows.came);
    if (did === 'done')
      await insertEvents(
        tx,
        now,
        eventsOf({ came: rows.came.map((c) => c.row), went: rows.went }, surroundings),
        surroundings,
      );
    await record(tx, now, {
      ...{ actor: 'worker', action: 'estate.change', object: 'estate', objectId: 1 },
      detail: { change: change.id, step: n } satisfies Json,
    });
  });
}

/** What a step takes out of the lines of its source, and puts in. Throws a StepRefused where its row is not there. */
async function rowChanges(tx: Queries, source: number, step: AccessStep, now: Date, by: string) {
  const standing = await standingRow(tx, source, step);
  try {
    const after = rowAfterStep(step, standing?.row, { by, at: now.toISOString() });
    return {
      wentIds: standing ? [standing.id] : [],
      went: standing ? [standing.row] : [],
      came: after === null ? [] : [newRow(after, standing?.holds ?? null)],
    };
  } catch (error) {
    if (error instanceof RangeError) throw new StepRefused(error.message);
    throw error;
  }
}

/** The line that a step is about, as it stands. */
export async function standingRow(tx: Queries, source: number, step: AccessStep) {
  const row = await tx.one(
    z.object({ id: BigId, content: z.string(), holds: z.string().nullable() }),
    'SELECT id, content, holds FROM access_line WHERE source_id = ? AND line_key = ? AND went = 0',
    [source, lineKey(stepIdentity(step))],
  );
  return row && { id: row.id, holds: row.holds, row: JSON.parse(row.content) as EstateRow };
}

/** As the source itself calls what is in it. */
export function localStep(step: AccessStep, source: number): AccessStep {
  const prefix = idPrefix(source);
  const own = (id: string) => (id.startsWith(prefix) ? id.slice(prefix.length) : id);
  switch (step.is) {
    case 'grant':
      return { ...step, grant: { ...step.grant, place: own(step.grant.place), to: own(step.grant.to) } };
    case 'link': {
      const { link } = step;
      return {
        ...step,
        link: {
          ...link,
          place: own(link.place),
          to: typeof link.to === 'string' ? link.to : link.to.map(own),
        },
      };
    }
    case 'member':
      return { ...step, group: own(step.group), member: own(step.member) };
    case 'inherits':
    case 'list':
      return { ...step, place: own(step.place) };
    case 'account':
      return { ...step, person: own(step.person) };
    case 'owner':
      return {
        ...step,
        place: own(step.place),
        before: step.before === null ? null : own(step.before),
        after: step.after === null ? null : own(step.after),
      };
  }
}
