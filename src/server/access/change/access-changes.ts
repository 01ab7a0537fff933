import { z } from 'zod';
import { AccessStep, undone, type AccessChange } from '../../../core/access/change/access-change.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import { Bytes, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { placeOfStep } from '../../../core/access/change/step-row.ts';
import { handsRules } from '../hands/hands-rules.ts';
import { askAccess } from '../index/ask-access.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { lineKey, sourceOfId } from '../keys.ts';
import type { Composed } from '../index/change-answers.ts';
import { allAccessSources } from '../sources/access-sources.ts';
import { isDirectory, takesChanges } from '../../../core/access/sources/access-source.ts';

export const CHANGE_JOB = 'access-change';

export const CHANGE_STATES = ['draft', 'running', 'done', 'partly', 'dropped'] as const;
export type ChangeState = (typeof CHANGE_STATES)[number];
export const STEP_STATES = ['waiting', 'begun', 'done', 'already', 'failed', 'ordered'] as const;
export type StepState = (typeof STEP_STATES)[number];

const Row = z.object({
  id: z.number(),
  name: z.string(),
  reason: z.string(),
  steps: JsonColumn(z.array(AccessStep)),
  state: z.enum(CHANGE_STATES),
  undoes: z.number().nullable(),
  review_id: z.number().nullable(),
  made_by: z.number().nullable(),
  made_at: Instant,
  begun_at: Instant.nullable(),
  ended_at: Instant.nullable(),
});
export type StoredChange = z.infer<typeof Row>;
const COLUMNS = Object.keys(Row.shape).join(', ');

/** Throws a RefusedError (404). */
export async function findChange(store: Queries, id: number | string, lock = false): Promise<StoredChange> {
  const change = await store.one(
    Row,
    `SELECT ${COLUMNS} FROM access_change WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!change) throw notFound('change of access');
  return change;
}

export interface ChangeMaker {
  readonly by: number | null;
  readonly reason: string;
  readonly undoes?: number | undefined;
  readonly review?: number | undefined;
}

/** Keeps a change as a draft, for rehearsing and doing. */
export async function keepChange(
  tx: Queries,
  ctx: Context,
  { name, steps }: Composed,
  { by, reason, undoes, review }: ChangeMaker,
): Promise<number> {
  const { id } = await tx.run(
    'INSERT INTO access_change (name, reason, steps, undoes, review_id, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [name, reason, JSON.stringify(steps), undoes ?? null, review ?? null, by, toDatetime(ctx.now())],
  );
  await record(tx, ctx.now(), {
    ...{ actor: by ?? 'system', action: 'access-change.add', object: 'access change', objectId: id },
    detail: { steps: steps.length, undoes: undoes ?? null },
  });
  return id;
}

/**
 * Begins a draft: a job for each source that takes changes; what no source takes from here becomes a work order. Throws a
 * RefusedError where it does not fit what stands now.
 */
export async function beginChange(ctx: Context, by: number | null, id: number): Promise<void> {
  const draft = await findChange(ctx.store, id);
  // What does not fit any more is refused before anything is done.
  const hands = await handsRules(ctx.store);
  const { steps: words, conflicts } = await askAccess(ctx, 'rehearse', { steps: draft.steps, hands });
  const [conflict] = conflicts;
  if (conflict && draft.reason === '')
    throw new RefusedError(
      `It gives ${conflict.people.slice(0, 3).join(', ')} both sides of “${conflict.rule}”.`,
      [{ field: 'reason', message: 'Say why that may be, or change it.' }],
      409,
    );
  await ctx.store.transaction(async (tx) => {
    const change = await findChange(tx, id, true);
    if (change.state !== 'draft') throw new RefusedError('It was begun already, or dropped.', [], 409);
    const sources = await allAccessSources(tx);
    const directory = await directoriesOf(tx, change.steps);
    const open = new Set<number>();
    const rows = change.steps.map((step, n) => {
      const about = placeOfStep(step) ?? ownerless(step) ?? '';
      const source = sourceOfId(about) ?? directory.get(about) ?? 0;
      const found = sources.find((s) => s.id === source);
      const writes = found !== undefined && found.content.writes && takesChanges(found.address.kind);
      if (writes) open.add(source);
      return [id, n, source, writes ? 'waiting' : 'ordered', (words[n] ?? '').slice(0, 1000)];
    });
    for (let at = 0; at < rows.length; at += 1000)
      await tx.run('INSERT INTO access_step (change_id, n, source_id, state, words) VALUES ?', [
        rows.slice(at, at + 1000),
      ]);
    await tx.run("UPDATE access_change SET state = 'running', begun_by = ?, begun_at = ? WHERE id = ?", [
      by,
      toDatetime(ctx.now()),
      id,
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by ?? 'system', action: 'access-change.begin', object: 'access change', objectId: id },
      detail: { steps: rows.length, sources: open.size },
    });
    await addSourceJobs(tx, ctx, change, [...open], by);
    await settleChange(tx, ctx, id);
  });
}

/** The group or the person that a step at no place is about. */
function ownerless(step: AccessStep): string | undefined {
  return step.is === 'member' ? step.group : step.is === 'account' ? step.person : undefined;
}

/** People and groups of a directory carry no source in their ids: the first that tells of each. */
async function directoriesOf(tx: Queries, steps: AccessChange): Promise<ReadonlyMap<string, number>> {
  const keys = new Map(
    steps.flatMap((s) => {
      const id = ownerless(s);
      return id === undefined
        ? []
        : (['person', 'group'] as const).map(
            (k) => [lineKey(JSON.stringify([k, id])).toString('hex'), id] as const,
          );
    }),
  );
  const found = new Map<string, number>();
  if (keys.size === 0) return found;
  const directories = (await allAccessSources(tx)).filter((s) => isDirectory(s.address.kind));
  for (const { id } of directories) {
    const rows = await tx.all(
      z.object({ line_key: Bytes }),
      'SELECT line_key FROM access_line WHERE source_id = ? AND went = 0 AND line_key IN (?)',
      [id, [...keys.keys()].map((k) => Buffer.from(k, 'hex'))],
    );
    for (const { line_key } of rows) {
      const of = keys.get(line_key.toString('hex'));
      if (of !== undefined && !found.has(of)) found.set(of, id);
    }
  }
  return found;
}

async function addSourceJobs(
  tx: Queries,
  ctx: Context,
  change: Pick<StoredChange, 'id' | 'name'>,
  sources: readonly number[],
  by: number | null,
): Promise<void> {
  for (const source of sources)
    await addJob(tx, ctx.now(), {
      ...{ kind: CHANGE_JOB, title: change.name, about: { object: 'access change', id: change.id } },
      ...{ payload: { change: change.id, source }, createdBy: by, mostOpen: 100 },
      // Whoever dies over it, the next goes on.
      maxAttempts: 200,
      within: WHOLE_ESTATE,
      link: `/access/changes/${change.id}`,
    });
}

/** Tries again what failed. Throws a RefusedError where nothing did. */
export async function tryChangeAgain(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const change = await findChange(tx, id, true);
    const failed = await tx.all(
      z.object({ source_id: z.number() }),
      "SELECT DISTINCT source_id FROM access_step WHERE change_id = ? AND state = 'failed'",
      [id],
    );
    if (change.state !== 'partly' || failed.length === 0)
      throw new RefusedError('Nothing of it failed.', [], 409);
    await tx.run(
      "UPDATE access_step SET state = 'waiting', told = '' WHERE change_id = ? AND state = 'failed'",
      [id],
    );
    await tx.run("UPDATE access_change SET state = 'running', ended_at = NULL WHERE id = ?", [id]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'access-change.again', object: 'access change', objectId: id, detail: {} },
    });
    await addSourceJobs(
      tx,
      ctx,
      change,
      failed.map((f) => f.source_id),
      by,
    );
  });
}

/** Ends a change whose steps have all come to something. */
export async function settleChange(tx: Queries, ctx: Pick<Context, 'now'>, id: number): Promise<void> {
  const counts = await stepCounts(tx, id);
  const of = (state: StepState) => counts[state] ?? 0;
  if (of('waiting') + of('begun') > 0) return;
  const state: ChangeState = of('failed') + of('ordered') > 0 ? 'partly' : 'done';
  const { changed } = await tx.run(
    "UPDATE access_change SET state = ?, ended_at = ? WHERE id = ? AND state IN ('running', 'partly') AND state <> ?",
    [state, toDatetime(ctx.now()), id, state],
  );
  if (changed === 0) return;
  await record(tx, ctx.now(), {
    ...{ actor: 'worker', action: 'access-change.end', object: 'access change', objectId: id },
    detail: { state, ...counts },
  });
}

export async function stepCounts(
  store: Queries,
  id: number,
): Promise<Readonly<Partial<Record<StepState, number>>>> {
  const rows = await store.all(
    z.object({ state: z.enum(STEP_STATES), n: Count }),
    'SELECT state, COUNT(*) AS n FROM access_step WHERE change_id = ? GROUP BY state',
    [id],
  );
  return Object.fromEntries(rows.map((r) => [r.state, r.n]));
}

/** The change that takes back what another did: of its steps those that were done. */
export async function undoChange(ctx: Context, by: number, id: number): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const change = await findChange(tx, id, true);
    if (change.state !== 'done' && change.state !== 'partly')
      throw new RefusedError('It was not done yet.', [], 409);
    const done = await tx.all(
      z.object({ n: z.number() }),
      "SELECT n FROM access_step WHERE change_id = ? AND state = 'done' ORDER BY n",
      [id],
    );
    const steps = undone(done.flatMap(({ n }) => change.steps[n] ?? []));
    if (steps.length === 0) throw new RefusedError('Nothing of it was done that could be undone.', [], 409);
    const open = await tx.one(
      z.object({ id: z.number() }),
      "SELECT id FROM access_change WHERE undoes = ? AND state <> 'dropped'",
      [id],
    );
    if (open) throw new RefusedError('It is undone already, or about to be.', [], 409, { id: open.id });
    return keepChange(
      tx,
      ctx,
      { name: `Undo: ${change.name}`.slice(0, 200), steps },
      { by, reason: '', undoes: id },
    );
  });
}

/** Says why a draft may be done. Throws a RefusedError for one that was begun. */
export async function sayWhy(ctx: Context, by: number, id: number, reason: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const change = await findChange(tx, id, true);
    if (change.state !== 'draft') throw new RefusedError('It was begun already.', [], 409);
    await tx.run('UPDATE access_change SET reason = ? WHERE id = ?', [reason, id]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'access-change.reason', object: 'access change', objectId: id, detail: {} },
    });
  });
}

/** Lets a draft go. */
export async function dropChange(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const change = await findChange(tx, id, true);
    if (change.state !== 'draft') throw new RefusedError('It was begun already.', [], 409);
    await tx.run("UPDATE access_change SET state = 'dropped', ended_at = ? WHERE id = ?", [
      toDatetime(ctx.now()),
      id,
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'access-change.drop', object: 'access change', objectId: id, detail: {} },
    });
  });
}
