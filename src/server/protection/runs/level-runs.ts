import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { openRunActs, RUN_STATES, type RunAct } from '../../../core/runs/run.ts';
import type { Context } from '../../context.ts';
import { proposeRun, viewRun, type RunView } from '../../runs/runs.ts';
import { countResults, findRun, listResults, type RunResult } from '../../runs/run-store.ts';
import { BigId, Count, Instant, JsonColumn } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { levelsInForce } from '../levels/levels.ts';
import { weighing } from '../rules/level-outlook.ts';
import { ANY_LEVEL_RUN, LEVEL_RUN, LevelRunPlan } from './level-run.ts';
import { ANY_LEVEL_UNDO, LEVEL_UNDO } from './level-undo.ts';

export const KEEP_DAYS = 30;

/**
 * Has setting levels estimated, for somebody or by itself, by the rules in force; a rehearsal may have one more, as its draft stands. Throws a
 * RefusedError where there is none, or (409) where another that sets them is not over.
 */
export async function proposeLevelRun(
  ctx: Context,
  account: Account | null,
  wish: {
    readonly mode: LevelRunPlan['mode'];
    readonly rule?: string | undefined;
    readonly keepDays: number;
  },
): Promise<string> {
  const { rules, names } = await weighing(ctx, wish.mode === 'rehearse' ? wish.rule : undefined);
  if (rules.length === 0)
    throw new RefusedError('No rule that sets a level is in force.', [
      { field: 'rule', message: 'Put one in force first, or rehearse one.' },
    ]);
  const levels = [...(await levelsInForce(ctx))].map(([id, content]) => ({ id, content }));
  const looked = wish.rule === undefined ? '' : `, with “${names.rule(wish.rule)}”`;
  return ctx.store.transaction(async (tx) => {
    if (wish.mode === 'set') await refuseSecond(tx);
    return proposeRun(tx, ctx, LEVEL_RUN, {
      title: wish.mode === 'rehearse' ? `Rehearse levels${looked}` : 'Set levels',
      about: { object: 'level rule', id: wish.rule ?? '' },
      plan: {
        mode: wish.mode,
        rules: [...rules],
        levels,
        sources: account?.scope?.['source'] ? [...account.scope['source']] : null,
        keepDays: wish.keepDays,
      },
      by: account?.id ?? null,
    });
  });
}

/** Two at once would each leave what the other is about to change. */
async function refuseSecond(tx: Queries): Promise<void> {
  const open = await tx.one(
    z.object({ id: BigId }),
    "SELECT id FROM run WHERE kind = ? AND ended_at IS NULL AND JSON_VALUE(plan, '$.mode') = 'set' LIMIT 1 FOR UPDATE",
    [LEVEL_RUN.kind],
  );
  if (open)
    throw new RefusedError(
      'Levels are being set already, or about to be.',
      [{ field: 'rule', message: 'Let that end, or cancel it first.' }],
      409,
    );
}

/** Has undoing a run estimated. Throws a RefusedError (409) where there is nothing to undo, or it goes on still. */
export async function proposeUndo(ctx: Context, by: number, id: string): Promise<string> {
  return ctx.store.transaction(async (tx) => {
    const run = await findRun(tx, id, true);
    if (run.kind !== LEVEL_RUN.kind || LevelRunPlan.parse(run.plan).mode !== 'set')
      throw new RefusedError('This run changed nothing.', [], 409);
    if (run.ended_at === null)
      throw new RefusedError('It goes on still.', [{ field: 'id', message: 'Cancel it first.' }], 409);
    const open = await tx.one(
      z.object({ n: Count }),
      "SELECT COUNT(*) AS n FROM run WHERE kind = ? AND object = 'run' AND object_id = ? AND ended_at IS NULL",
      [LEVEL_UNDO.kind, id],
    );
    if ((open?.n ?? 0) > 0) throw new RefusedError('It is being undone already.', [], 409);
    return proposeRun(tx, ctx, LEVEL_UNDO, {
      title: `Undo: ${run.title}`,
      about: { object: 'run', id },
      plan: { run: id },
      by,
    });
  });
}

export interface ListedLevelRun {
  readonly id: string;
  readonly title: string;
  readonly mode: LevelRunPlan['mode'];
  readonly state: (typeof RUN_STATES)[number];
  readonly createdAt: string;
  readonly endedAt: string | null;
  readonly outcome: Readonly<Record<string, number>> | null;
}

const Outcome = z.record(z.string(), z.number()).nullable().catch(null);

/** The newest first. */
export async function listLevelRuns(store: Queries): Promise<readonly ListedLevelRun[]> {
  const rows = await store.all(
    z.object({
      id: BigId,
      title: z.string(),
      plan: JsonColumn(LevelRunPlan.pick({ mode: true }).loose()),
      state: z.enum(RUN_STATES),
      created_at: Instant,
      ended_at: Instant.nullable(),
      outcome: JsonColumn(Outcome),
    }),
    'SELECT id, title, plan, state, created_at, ended_at, outcome FROM run WHERE kind = ? ORDER BY id DESC LIMIT 100',
    [LEVEL_RUN.kind],
  );
  return rows.map((r) => ({
    id: r.id,
    title: r.title,
    mode: r.plan.mode,
    state: r.state,
    createdAt: r.created_at,
    endedAt: r.ended_at,
    outcome: r.outcome,
  }));
}

export interface LevelRunView extends RunView {
  readonly mode: LevelRunPlan['mode'];
  readonly acts: readonly RunAct[];
  readonly keepDays: number;
  /** By name of the rule: its level. */
  readonly rules: readonly { readonly id: string; readonly name: string; readonly level: string }[];
  /** What became of its items so far. */
  readonly counts: Readonly<Record<string, number>>;
  /** Documents that are kept as they were. */
  readonly copies: number;
  readonly undo: (RunView & { readonly acts: readonly RunAct[] }) | null;
}

export async function viewLevelRun(ctx: Context, id: string): Promise<LevelRunView> {
  const run = await findRun(ctx.store, id);
  if (run.kind !== LEVEL_RUN.kind) throw new RefusedError('This is no run of levels.', [], 404);
  const plan = LevelRunPlan.parse(run.plan);
  const [view, counts, copies, undo] = await Promise.all([
    viewRun(ctx.store, ANY_LEVEL_RUN, id),
    countResults(ctx.store, id),
    ctx.store.one(
      z.object({ n: Count }),
      "SELECT COUNT(*) AS n FROM level_step s JOIN kept_copy c ON c.id = s.copy_id WHERE s.run_id = ? AND s.state = 'stamped'",
      [id],
    ),
    ctx.store.one(
      z.object({ id: BigId }),
      "SELECT id FROM run WHERE kind = ? AND object = 'run' AND object_id = ? ORDER BY id DESC LIMIT 1",
      [LEVEL_UNDO.kind, id],
    ),
  ]);
  const undone = undo && (await viewRun(ctx.store, ANY_LEVEL_UNDO, undo.id));
  return {
    ...view,
    mode: plan.mode,
    acts: openRunActs(view.run.state),
    keepDays: plan.keepDays,
    rules: plan.rules.map((r) => ({
      id: r.id,
      name: r.name,
      level: plan.levels.find((l) => l.id === r.level)?.content.name ?? r.level,
    })),
    counts,
    copies: copies?.n ?? 0,
    undo: undone ? { ...undone, acts: openRunActs(undone.run.state) } : null,
  };
}

export async function levelRunResults(
  store: Queries,
  id: string,
  after: string | undefined,
  size: number,
): Promise<Page<RunResult>> {
  await findRun(store, id);
  return listResults(store, id, after, size);
}
