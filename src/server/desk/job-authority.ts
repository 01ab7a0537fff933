import { may, type Account, type AuthorityObject } from '../../core/accounts/authority.ts';
import type { Holder } from '../../core/accounts/roles/held-role.ts';
import { inScope } from '../../core/accounts/scope.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { askToStop, findJob, lockJob, withinOf, writeEnd, type Job } from '../jobs/job.ts';
import { runJobs } from '../runs/run-work.ts';
import { endJob, type JobKind } from '../jobs/runner.ts';
import { makeReportJob } from './make-report-job.ts';

/** Of all areas, and of what tells of all areas, by name. */
export const JOB_KINDS: ReadonlyMap<string, JobKind> = new Map(
  [...AREAS.flatMap((a) => [...(a.jobs ?? []), ...(a.runs ?? []).flatMap(runJobs)]), makeReportJob].map(
    (k) => [k.kind, k],
  ),
);

/** A kind that no area has any more is for those who may do everything. */
export function maySeeJob(account: Holder & Pick<Account, 'scope'>, job: SeenJob): boolean {
  return (
    may(account, JOB_KINDS.get(job.kind)?.see ?? 'accounts.edit') &&
    withinOf(job).every((w) => inScope(account, w.kind, w.id))
  );
}

type SeenJob = Pick<Job, 'kind' | 'within_object' | 'within_id'>;

export function mayCancelJob(account: Holder, kind: string): boolean {
  return may(account, 'jobs.cancel') && may(account, JOB_KINDS.get(kind)?.start ?? 'accounts.edit');
}

/** The job as it is, where one may know of it; throws a RefusedError (404). */
export async function jobObject(
  ctx: Context,
  { id }: { id: string },
  account: Account,
): Promise<AuthorityObject> {
  const job = await findJob(ctx.store, id);
  if (!job || !maySeeJob(account, job)) throw notFound('job');
  return { kind: 'job', id };
}

/** Asks for a job to stop; one that waits is over at once. */
export async function cancelJob(ctx: Context, account: Account, id: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const job = await lockJob(tx, id);
    if (!maySeeJob(account, job)) throw new RefusedError('There is no such job.', [], 404);
    if (!mayCancelJob(account, job.kind))
      throw new RefusedError('Only those who may start this work may stop it.', [], 403);
    if (job.state !== 'waiting' && job.state !== 'running')
      throw new RefusedError(`This work is over already: ${job.state}.`, [], 409);
    await askToStop(tx, id);
    const kind = JOB_KINDS.get(job.kind);
    const end = { how: 'cancelled', result: null } as const;
    if (job.state === 'waiting')
      await (kind ? endJob(tx, ctx, kind, job, end) : writeEnd(tx, ctx.now(), job, end));
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'job.cancel',
      object: 'job',
      objectId: id,
      detail: { kind: job.kind },
    });
  });
}
