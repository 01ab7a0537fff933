import { may, type Account } from '../../core/accounts/authority.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { sealing } from '../evidence/ledger.ts';
import { recentJobs, type Job, type JobProgress } from '../jobs/job.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { mayCancelJob, maySeeJob } from './job-authority.ts';
import { countToday } from './today.ts';

/** Running work as the strip shows it. */
export interface StripJob {
  readonly id: string;
  readonly kind: string;
  readonly title: string;
  readonly state: Job['state'];
  readonly progress: JobProgress | null;
  readonly error: string | null;
  readonly link: string | null;
  readonly stopping: boolean;
  readonly mayCancel: boolean;
}

/** What the top bar and the strip show on every screen. */
export interface DeskState {
  readonly inForce: number;
  readonly rehearsing: number;
  readonly needsHand: number;
  readonly jobs: readonly StripJob[];
  /** `null` for whom it is none of their business. */
  readonly ledger: { readonly sealedAt: string | null; readonly unsealed: boolean } | null;
}

const RULES = AREAS.flatMap((a) => a.rules ?? []);

/** As much of it as the account may be told; of kept counts alone, so that it costs the same whatever there is. */
export async function deskState(ctx: Context, account: Account): Promise<DeskState> {
  const [counts, jobs, ledger, needsHand] = await Promise.all([
    ruleCounts(
      ctx.store,
      RULES.filter((r) => may(account, r.see)).map((r) => r.kind.object),
    ),
    recentJobs(ctx, 10),
    may(account, 'ledger.read') ? sealing(ctx.store) : null,
    countToday(ctx, account),
  ]);
  return {
    ...counts,
    needsHand,
    jobs: jobs
      .filter((j) => maySeeJob(account, j.kind))
      .map((j) => ({
        id: j.id,
        kind: j.kind,
        title: j.title,
        state: j.state,
        progress: j.progress,
        error: j.error,
        link: j.link,
        stopping: j.cancel_asked && j.state === 'running',
        mayCancel: mayCancelJob(account, j.kind),
      })),
    ledger,
  };
}
