import { z } from 'zod';
import type { Exposure } from '../../../core/access/breadth/breadth.ts';
import { RefusedError, type FieldError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Instant } from '../../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { exposuresOf } from '../breadth/exposures.ts';
import { handsRules } from '../hands/hands-rules.ts';
import { askAccess } from '../index/ask-access.ts';
import type { RehearsalView } from '../index/change-answers.ts';
import {
  CHANGE_STATES,
  findChange,
  STEP_STATES,
  stepCounts,
  type ChangeState,
  type StepState,
} from './access-changes.ts';

/** A change as the desk shows it; a draft with what it would do. */
export interface ChangeView {
  readonly id: number;
  readonly name: string;
  readonly reason: string;
  readonly state: ChangeState;
  readonly steps: number;
  readonly counts: Readonly<Partial<Record<StepState, number>>>;
  readonly madeBy: string | null;
  readonly madeAt: string;
  readonly begunAt: string | null;
  readonly endedAt: string | null;
  readonly undoes: number | null;
  readonly undoneBy: number | null;
  readonly review: number | null;
  readonly rehearsal: RehearsalView | null;
  /** Why it cannot be rehearsed: it does not fit what stands. */
  readonly refused: { readonly words: string; readonly fields: readonly FieldError[] } | null;
  /** By the place, of those where somebody gains or loses: what lies there. */
  readonly exposure: Readonly<Record<string, Exposure>>;
}

export async function viewChange(ctx: Context, id: number): Promise<ChangeView> {
  const change = await findChange(ctx.store, id);
  const more = await ctx.store.one(
    z.object({ maker: z.string().nullable(), undone: z.number().nullable() }),
    `SELECT (SELECT name FROM account WHERE id = ?) AS maker,
       (SELECT MAX(id) FROM access_change WHERE undoes = ? AND state <> 'dropped') AS undone`,
    [change.made_by, id],
  );
  let rehearsal: RehearsalView | null = null;
  let refused: ChangeView['refused'] = null;
  if (change.state === 'draft')
    try {
      rehearsal = await askAccess(ctx, 'rehearse', {
        steps: change.steps,
        hands: await handsRules(ctx.store),
      });
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      refused = { words: error.message, fields: error.fields };
    }
  return {
    ...{ id, name: change.name, reason: change.reason, state: change.state, steps: change.steps.length },
    counts: await stepCounts(ctx.store, id),
    ...{ madeBy: more?.maker ?? null, madeAt: change.made_at, begunAt: change.begun_at },
    ...{ endedAt: change.ended_at, undoes: change.undoes, undoneBy: more?.undone ?? null },
    ...{ review: change.review_id, rehearsal, refused, exposure: await exposureOf(ctx, rehearsal) },
  };
}

/** What lies at the places of a rehearsal; each item counted for the nearest of them. */
export async function exposureOf(
  ctx: Context,
  rehearsal: RehearsalView | null,
): Promise<Readonly<Record<string, Exposure>>> {
  const moved = (rehearsal?.places ?? []).filter((p) => p.gain + p.lose > 0 && p.holds !== null);
  const found = await exposuresOf(
    ctx,
    moved.map((p, i) => [i, p.holds ?? '']),
    true,
  );
  return Object.fromEntries(found.map(([i, e]) => [moved[i]?.key ?? '', e]));
}

export interface ListedChange {
  readonly id: number;
  readonly name: string;
  readonly state: ChangeState;
  readonly madeAt: string;
  readonly madeBy: string | null;
  readonly undoes: number | null;
}

const Listed = z.object({
  id: z.number(),
  name: z.string(),
  state: z.enum(CHANGE_STATES),
  made_at: Instant,
  maker: z.string().nullable(),
  undoes: z.number().nullable(),
});

/** Changes, the latest first; the first of many. */
export async function listChanges(store: Queries, most = 200): Promise<readonly ListedChange[]> {
  const rows = await store.all(
    Listed,
    `SELECT c.id, c.name, c.state, c.made_at, a.name AS maker, c.undoes FROM access_change c
     LEFT JOIN account a ON a.id = c.made_by WHERE c.state <> 'dropped' ORDER BY c.id DESC LIMIT ?`,
    [most],
  );
  return rows.map(({ made_at, maker, ...r }) => ({ ...r, madeAt: made_at, madeBy: maker }));
}

export interface ListedStep {
  readonly n: number;
  readonly state: StepState;
  readonly words: string;
  readonly told: string;
  readonly at: string | null;
  readonly source: string;
}

const StepRow = z.object({
  n: z.number(),
  state: z.enum(STEP_STATES),
  words: z.string(),
  told: z.string(),
  at: Instant.nullable(),
  source: z.string().nullable(),
});

/** What became of each step, in order. */
export async function listSteps(
  store: Queries,
  id: number,
  after: string | undefined,
  size: number,
): Promise<Page<ListedStep>> {
  const [last = -1] = after === undefined ? [] : decodeCursor(after, z.tuple([z.number()]));
  const rows = await store.all(
    StepRow,
    `SELECT t.n, t.state, t.words, t.told, t.at, s.name AS source FROM access_step t
     LEFT JOIN access_source s ON s.id = t.source_id WHERE t.change_id = ? AND t.n > ? ORDER BY t.n LIMIT ?`,
    [id, last, size + 1],
  );
  const page = toPage(rows, size, (r) => [r.n]);
  return { ...page, rows: page.rows.map((r) => ({ ...r, source: r.source ?? 'no source' })) };
}
