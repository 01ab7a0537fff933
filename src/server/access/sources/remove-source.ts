import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import type { JobKind } from '../../jobs/runner.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { giveUpOrders } from '../change/work-orders.ts';
import { nextRevision } from '../estate/line-rows.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { findAccessSource } from './access-sources.ts';

/** What a source told ends for the estate; nothing is taken from anybody, and past days stay as they were. */
export const ACCESS_FORGETTING: JobKind = {
  kind: 'access-forgetting',
  lane: 'quick',
  see: 'access.read',
  start: 'access.sources',
  async work(ctx, { job }) {
    const { source } = z.object({ source: z.number() }).parse(job.payload);
    return ctx.store.transaction(async (tx) => {
      const now = ctx.now();
      const revision = await nextRevision(tx);
      const { changed } = await tx.run(
        'UPDATE access_line SET went = ?, until = ? WHERE source_id = ? AND went = 0',
        [revision, toDatetime(now), source],
      );
      await tx.run('DELETE FROM access_use WHERE source_id = ?', [source]);
      await record(tx, now, {
        ...{ actor: 'worker', action: 'estate.change', object: 'estate', objectId: 1 },
        detail: { revision },
      });
      return { went: changed };
    });
  },
};

/** Takes a source out; what was asked for in it by hand is not waited for. Throws a RefusedError (409) while a change is being done in it. */
export async function removeAccessSource(tx: Queries, ctx: Context, by: number, id: number): Promise<void> {
  const { name } = await findAccessSource(tx, id, true);
  const open = await tx.one(
    z.object({ name: z.string() }),
    `SELECT c.name FROM access_step t JOIN access_change c ON c.id = t.change_id
     WHERE t.source_id = ? AND t.state IN ('waiting', 'begun') LIMIT 1`,
    [id],
  );
  if (open)
    throw new RefusedError(
      `“${open.name}” is being done in it.`,
      [{ field: 'id', message: 'Take it out once the change is done.' }],
      409,
    );
  await tx.run('UPDATE access_source SET removed_at = ?, secret = NULL, upload = NULL WHERE id = ?', [
    toDatetime(ctx.now()),
    id,
  ]);
  await giveUpOrders(tx, ctx, id);
  await takeOffToday(tx, 'access not read', String(id));
  await addJob(tx, ctx.now(), {
    ...{ kind: ACCESS_FORGETTING.kind, title: `Forget ${name}`, payload: { source: id } },
    about: { object: 'access source', id },
    ...{ createdBy: by, link: '/access/sources', within: WHOLE_ESTATE },
  });
  await record(tx, ctx.now(), {
    ...{ actor: by, action: 'access-source.remove', object: 'access source', objectId: id },
    detail: { name },
  });
}
