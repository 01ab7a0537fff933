import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { findRun } from '../../runs/run-store.ts';
import { moveRun, proposeRun } from '../../runs/runs.ts';
import { BigId, toDatetime } from '../../store/columns.ts';
import { ANY_DISPOSAL_RUN, DISPOSAL_RUN } from './disposal-run.ts';
import { findDisposal } from './disposals.ts';

/** A disposal whose run failed as a whole is tried again after so long. */
const AGAIN_MS = 10 * 60_000;

/** Has what was agreed to let go, and starts what was looked at. */
export async function runAgreed(ctx: Context): Promise<void> {
  const agreed = await ctx.store.all(
    z.object({ id: BigId }),
    `SELECT d.id FROM disposal d WHERE d.state = 'agreed' AND d.run_id IS NULL
     AND NOT EXISTS (SELECT 1 FROM run r WHERE r.kind = ? AND r.object = 'disposal' AND r.object_id = d.id AND r.ended_at > ?)
     ORDER BY d.id LIMIT 20`,
    [DISPOSAL_RUN.kind, toDatetime(new Date(ctx.now().getTime() - AGAIN_MS))],
  );
  for (const { id } of agreed)
    await ctx.store.transaction(async (tx) => {
      const disposal = await findDisposal(tx, id, true);
      if (disposal.state !== 'agreed' || disposal.run_id !== null) return;
      const run = await proposeRun(tx, ctx, DISPOSAL_RUN, {
        title: `Let go: ${disposal.rule_name}, ${disposal.owner}`,
        about: { object: 'disposal', id },
        plan: { disposal: id },
        by: null,
      });
      await tx.run("UPDATE disposal SET state = 'running', run_id = ? WHERE id = ?", [run, id]);
    });
  const estimated = await ctx.store.all(
    z.object({ id: BigId }),
    "SELECT id FROM run WHERE state = 'estimated' AND kind = ? AND created_by IS NULL",
    [DISPOSAL_RUN.kind],
  );
  for (const { id } of estimated)
    await ctx.store
      .transaction(async (tx) => {
        if ((await findRun(tx, id, true)).state === 'estimated')
          await moveRun(tx, ctx, ANY_DISPOSAL_RUN, null, id, 'start');
      })
      .catch((error: unknown) => {
        if (!(error instanceof RefusedError)) throw error;
      });
}
