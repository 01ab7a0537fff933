import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob, openJobsAbout } from '../../jobs/job.ts';
import { holdsLease, type JobKind } from '../../jobs/runner.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { touchBlocks } from '../items/item-blocks.ts';
import { findSource } from './sources.ts';

/** Items that go in one transaction. */
const AT_ONCE = 2000;

/**
 * Has a source and all that is known of it forgotten, as visible work; the data itself stays where it lies. Throws a
 * RefusedError (409) that names the surveys that still read it.
 */
export async function queueRemoval(ctx: Context, by: number, id: number): Promise<{ job: string }> {
  return ctx.store.transaction(async (tx) => {
    const { content } = await findSource(tx, id, true);
    await refuseInSurvey(tx, id);
    const about = { object: 'source', id };
    if ((await openJobsAbout(tx, about)).some((j) => j.kind === KIND))
      throw new RefusedError('It is being forgotten already.', [], 409);
    return {
      job: await addJob(tx, ctx.now(), {
        kind: KIND,
        title: `Forgetting ${content.name}`,
        about,
        within: [{ kind: 'source', id: String(id) }],
        payload: { source: id, account: by },
        createdBy: by,
        link: '/holdings/sources',
      }),
    };
  });
}

async function refuseInSurvey(tx: Queries, id: number): Promise<void> {
  const surveys = await tx.all(
    z.object({ content: JsonColumn(SurveyContent) }),
    "SELECT content FROM survey WHERE JSON_CONTAINS(content, JSON_QUOTE(?), '$.sources') LIMIT 5",
    [String(id)],
  );
  if (surveys.length > 0)
    throw new RefusedError(
      `It is read by ${surveys.map((s) => `“${s.content.name}”`).join(', ')}.`,
      [{ field: 'id', message: 'Take it out of that first.' }],
      409,
    );
}

const KIND = 'remove-source';
const Payload = z.object({ source: z.int(), account: z.int() });

export const removeSourceJob: JobKind = {
  kind: KIND,
  lane: 'quick',
  see: 'holdings.read',
  start: 'holdings.sources',
  work: async (ctx, run): Promise<Json> => {
    const { source: id, account } = Payload.parse(run.job.payload);
    for (let gone = 0; ;) {
      if (run.signal.aborted) return { cancelled: true };
      const n = await ctx.store.transaction(async (tx) => {
        if (!(await holdsLease(tx, run))) return -1;
        const items = await tx.all(
          z.object({ id: z.number() }),
          'SELECT id FROM item WHERE source_id = ? ORDER BY id LIMIT ? FOR UPDATE',
          [id, AT_ONCE],
        );
        if (items.length === 0) return 0;
        const ids = items.map((i) => i.id);
        await tx.run('DELETE FROM item WHERE id IN (?)', [ids]);
        await touchBlocks(tx, ids);
        return ids.length;
      });
      if (n < 0) return { lost: true };
      if (n === 0) break;
      gone += n;
      run.progress({ words: `${gone} items forgotten`, share: null, secondsLeft: null });
    }
    return ctx.store.transaction(async (tx): Promise<Json> => {
      if (!(await holdsLease(tx, run))) return { lost: true };
      // It may be gone since an earlier try.
      const source = await findSource(tx, id, true).catch((error: unknown) => {
        if (error instanceof RefusedError) return undefined;
        throw error;
      });
      if (!source) return { gone: true };
      await refuseInSurvey(tx, id);
      await tx.run("UPDATE found_store SET source_id = NULL, standing = 'open' WHERE source_id = ?", [id]);
      await tx.run('DELETE FROM source WHERE id = ?', [id]);
      await takeOffToday(tx, 'source failed', String(id));
      await record(tx, ctx.now(), {
        actor: account,
        action: 'source.remove',
        object: 'source',
        objectId: id,
        detail: { name: source.content.name },
      });
      return { gone: true };
    });
  },
};
