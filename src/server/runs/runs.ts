import type { Within } from '../../core/accounts/scope.ts';
import { estimateTime, sumTimes, type Amount, type TimeEstimate } from '../../core/runs/estimate.ts';
import { afterRunAct, openRunActs, type RunAct } from '../../core/runs/run.ts';
import { RefusedError } from '../../core/refusal.ts';
import { withinColumns } from '../accounts/scope-condition.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { addJob } from '../jobs/job.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { RunKind } from './run-kind.ts';
import { findRun, measuredParts, partsOf, withinOfRun, type Run, type RunPart } from './run-store.ts';
import { endRun, settleRun, stopJobs } from './run-work.ts';

export interface NewRun<P> {
  readonly title: string;
  readonly about: { readonly object: string; readonly id: string | number };
  readonly within?: readonly Within[];
  readonly plan: P;
  readonly by: number | null;
}

/** Puts down what is wanted and has it looked at; nothing is done before somebody starts it. */
export async function proposeRun<P>(
  tx: Queries,
  ctx: Context,
  kind: RunKind<P>,
  run: NewRun<P>,
): Promise<string> {
  const now = ctx.now();
  const within = withinColumns(run.within);
  const { id } = await tx.run(
    "INSERT INTO run (kind, title, object, object_id, within_object, within_id, plan, state, created_by, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, 'estimating', ?, ?)",
    [
      kind.kind,
      run.title.slice(0, 200),
      run.about.object,
      String(run.about.id),
      within.within_object,
      within.within_id,
      JSON.stringify(run.plan),
      run.by,
      toDatetime(now),
    ],
  );
  const made = await findRun(tx, String(id));
  await addJob(tx, now, {
    kind: `${kind.kind}-look`,
    title: `Estimate: ${run.title}`,
    about: { object: 'run', id },
    within: withinOfRun(made),
    payload: { run: made.id },
    createdBy: run.by,
    link: kind.place(made),
  });
  await record(tx, now, {
    actor: run.by ?? 'system',
    action: 'run.propose',
    object: 'run',
    objectId: id,
    detail: { kind: kind.kind, about: { object: run.about.object, id: String(run.about.id) } },
  });
  return made.id;
}

/** Starts, pauses, goes on or cancels. Throws a RefusedError (409) for what is not open in its state. */
export async function moveRun(
  tx: Queries,
  ctx: Context,
  kind: RunKind<unknown>,
  by: number | null,
  id: string,
  act: RunAct,
): Promise<Run> {
  const run = await findRun(tx, id, true);
  if (!openRunActs(run.state).includes(act))
    throw new RefusedError(
      `A run that is ${run.state} cannot be asked to ${act}. Open now: ${openRunActs(run.state).join(', ') || 'nothing'}.`,
      [],
      409,
    );
  const working = (act === 'pause' || act === 'cancel') && (await stopJobs(tx, ctx, id));
  const state = afterRunAct(run.state, act, working) ?? run.state;
  await tx.run('UPDATE run SET state = ?, started_at = COALESCE(started_at, ?) WHERE id = ?', [
    state,
    act === 'start' ? toDatetime(ctx.now()) : null,
    id,
  ]);
  await record(tx, ctx.now(), {
    actor: by ?? 'system',
    action: `run.${act.replace(' ', '-')}`,
    object: 'run',
    objectId: id,
    detail: { kind: kind.kind },
  });
  if (state === 'cancelled') await endRun(tx, ctx, kind, id, 'cancelled', null);
  if (state === 'running') await settleRun(tx, ctx, kind, id);
  return findRun(tx, id);
}

/** A part with how long it is likely to take. */
export interface EstimatedPart extends RunPart {
  readonly time: TimeEstimate;
}

export interface RunView {
  readonly run: Omit<Run, 'digest' | 'plan'>;
  readonly parts: readonly Omit<EstimatedPart, 'digest' | 'place'>[];
  /** In all, without what is left out. */
  readonly amount: Amount;
  readonly leftOut: Amount;
  readonly time: TimeEstimate;
}

/** A run with its estimate; what was measured since goes into it. */
export async function viewRun(store: Queries, kind: RunKind<unknown>, id: string): Promise<RunView> {
  const { digest: _digest, plan: _plan, ...run } = await findRun(store, id);
  const [parts, works] = [await partsOf(store, id), await measuredParts(store, kind.kind)];
  const estimated = parts.map(({ digest: _d, place: _p, ...part }) => ({
    ...part,
    time: estimateTime(part.looked, works, kind.guess),
  }));
  const add = (a: Amount, b: Amount | undefined): Amount =>
    b ? { items: a.items + b.items, bytes: a.bytes + b.bytes } : a;
  const none: Amount = { items: 0, bytes: 0 };
  return {
    run,
    parts: estimated,
    amount: estimated.reduce((n, p) => add(n, p.looked), none),
    leftOut: estimated.reduce((n, p) => add(n, p.looked.leftOut), none),
    time: sumTimes(estimated.map((p) => p.time)),
  };
}
