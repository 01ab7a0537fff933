import { recentJobs, type Job, type JobProgress } from './jobs/job.ts';
import { ledgerState } from './evidence/ledger.ts';
import { countStages } from './rule-store.ts';
import { todayItems } from './today/items.ts';
import type { Context } from './context.ts';

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
}

/** What the top bar and the strip show on every screen. */
export interface DeskState {
  readonly inForce: number;
  readonly rehearsing: number;
  readonly needsHand: number;
  readonly jobs: readonly StripJob[];
  readonly ledger: { readonly sealedAt: string | null; readonly unsealed: number };
}

export async function deskState(ctx: Context): Promise<DeskState> {
  const [stages, jobs, ledger, today] = await Promise.all([
    countStages(ctx.store),
    recentJobs(ctx, 10),
    ledgerState(ctx.store),
    todayItems(ctx.store),
  ]);
  return {
    ...stages,
    needsHand: today.length,
    jobs: jobs.map((j) => ({
      id: j.id,
      kind: j.kind,
      title: j.title,
      state: j.state,
      progress: j.progress,
      error: j.error,
      link: j.link,
      stopping: j.cancel_asked && j.state === 'running',
    })),
    ledger: { sealedAt: ledger.sealedAt, unsealed: ledger.unsealed },
  };
}
