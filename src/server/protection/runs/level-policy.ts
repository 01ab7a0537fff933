import { z } from 'zod';
import { LevelPolicy, levelPolicyVocabulary } from '../../../core/protection/runs/level-policy.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { findRun } from '../../runs/run-store.ts';
import { moveRun } from '../../runs/runs.ts';
import { BigId, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { lookAtChanged } from '../levels/lost-markings.ts';
import { levelOutlook } from '../rules/level-outlook.ts';
import { listRules } from '../../rules/rule-store.ts';
import { LEVEL_RULE } from '../rules/level-rules.ts';
import { ANY_LEVEL_RUN, LEVEL_RUN } from './level-run.ts';
import { proposeLevelRun } from './level-runs.ts';

const KEY = 1;

/** How levels are set by themselves; there is one. */
export const LEVEL_POLICY: PlainKind<LevelPolicy> = {
  object: 'level policy',
  content: LevelPolicy,
  vocabulary: () => Promise.resolve(levelPolicyVocabulary),
  read: async (store, key, lock) => {
    if (Number(key) !== KEY) throw notFound('level policy');
    return (await readPolicy(store, lock)).content;
  },
  write: async (tx, _key, content) => {
    await tx.run('UPDATE level_policy SET content = ? WHERE id = ?', [JSON.stringify(content), KEY]);
  },
};

const Row = z.object({ content: JsonColumn(LevelPolicy), looked_at: Instant.nullable() });

export async function readPolicy(store: Queries, lock = false): Promise<z.infer<typeof Row>> {
  const row = await store.one(
    Row,
    `SELECT content, looked_at FROM level_policy WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [KEY],
  );
  if (!row) throw notFound('level policy');
  return row;
}

/** Once surveys have ended, has the rules in force brought to what they found; and starts what was estimated for that. */
export async function setLevelsByThemselves(ctx: Context): Promise<void> {
  const { content, looked_at: lookedAt } = await readPolicy(ctx.store);
  if (content.byItself === 'never') return;
  await startEstimated(ctx);
  const news = await ctx.store.one(
    z.object({ at: Instant.nullable(), surveying: Count, setting: Count }),
    `SELECT (SELECT MAX(ended_at) FROM run WHERE kind = 'survey' AND state = 'done') AS at,
       (SELECT COUNT(*) FROM run WHERE kind = 'survey' AND state IN ('running', 'pausing', 'stopping')) AS surveying,
       (SELECT COUNT(*) FROM run WHERE kind = ? AND ended_at IS NULL) AS setting`,
    [LEVEL_RUN.kind],
  );
  if (!news?.at || news.surveying > 0 || news.setting > 0) return;
  if (lookedAt && news.at <= lookedAt) return rehearseByThemselves(ctx, news.at, content.keepDays);
  const taken = await ctx.store.run(
    'UPDATE level_policy SET looked_at = ? WHERE id = ? AND (looked_at IS NULL OR looked_at < ?)',
    [toDatetime(news.at), KEY, toDatetime(news.at)],
  );
  // Another worker did.
  if (taken.changed === 0) return;
  await lookAtChanged(ctx);
  const { changes, takenOff, lost } = await levelOutlook(ctx, {});
  if (changes + takenOff + lost === 0) return;
  try {
    await proposeLevelRun(ctx, null, { mode: 'set', keepDays: content.keepDays });
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error;
  }
}

/** Tries every rule that rehearses on what was surveyed last, once: its documents are stamped, and thrown away. */
async function rehearseByThemselves(ctx: Context, surveyed: string, keepDays: number): Promise<void> {
  for (const { id, stage, content } of await listRules(ctx.store, LEVEL_RULE, ['rehearsing'])) {
    // Owners that are asked are not rehearsed by a run.
    if (stage.state !== 'rehearsing' || content.how === 'propose') continue;
    const tried = await ctx.store.one(
      z.object({ n: Count }),
      "SELECT COUNT(*) AS n FROM run WHERE kind = ? AND object = 'level rule' AND object_id = ? AND created_at >= ?",
      [LEVEL_RUN.kind, id, toDatetime(stage.since > surveyed ? stage.since : surveyed)],
    );
    if ((tried?.n ?? 0) > 0) continue;
    try {
      await proposeLevelRun(ctx, null, { mode: 'rehearse', rule: id, keepDays });
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
    }
    // One after the other: the next once this one is over.
    return;
  }
}

async function startEstimated(ctx: Context): Promise<void> {
  const estimated = await ctx.store.all(
    z.object({ id: BigId }),
    "SELECT id FROM run WHERE state = 'estimated' AND kind = ? AND created_by IS NULL",
    [LEVEL_RUN.kind],
  );
  for (const { id } of estimated)
    await ctx.store.transaction(async (tx) => {
      if ((await findRun(tx, id, true)).state === 'estimated')
        await moveRun(tx, ctx, ANY_LEVEL_RUN, null, id, 'start');
    });
}
