import { may, type Account, type Action } from '../../core/accounts/authority.ts';
import { recentJobs, type Job, type JobProgress } from '../jobs/job.ts';
import { mayCancelJob, maySeeJob } from '../jobs/job-authority.ts';
import { ledgerState } from '../evidence/ledger.ts';
import { countStages, type RuleTable } from '../rules/rule-store.ts';
import { todayItems } from './today-items.ts';
import type { Context } from '../context.ts';

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
  readonly ledger: { readonly sealedAt: string | null; readonly unsealed: number } | null;
}

/** As much of it as the account may be told. */
export async function deskState(ctx: Context, account: Account): Promise<DeskState> {
  const [stages, jobs, ledger, today] = await Promise.all([
    countStages(
      ctx.store,
      RULE_TABLES.filter((r) => may(account, r.action)).map((r) => r.table),
    ),
    recentJobs(ctx, 10),
    may(account, 'ledger.read') ? ledgerState(ctx.store) : null,
    todayItems(ctx.store, account),
  ]);
  return {
    ...stages,
    needsHand: today.length,
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
    ledger: ledger && { sealedAt: ledger.sealedAt, unsealed: ledger.unsealed },
  };
}

const RULE_TABLES: readonly { readonly table: RuleTable; readonly action: Action }[] = [
  { table: 'notice', action: 'websites.read' },
  { table: 'detector', action: 'holdings.read' },
];
