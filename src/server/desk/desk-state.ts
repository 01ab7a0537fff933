import { may, type Account } from '../../core/accounts/authority.ts';
import type { Holder } from '../../core/accounts/roles/held-role.ts';
import { isKept } from '../../core/accounts/scope.ts';
import type { ChangedObject } from '../../core/desk/changed-object.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { sealing } from '../evidence/ledger.ts';
import { recentJobs, type Job, type JobProgress } from '../jobs/job.ts';
import { addCounts, countRulesWithin, ruleCounts, type RuleCounts } from '../rules/rule-counts.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { mayCancelJob, maySeeJob } from './job-authority.ts';
import { countKept, countOwn, countShared, type TodayCount } from './today.ts';

/** Running work as the strip shows it. */
export interface StripJob {
  readonly id: string;
  readonly kind: string;
  readonly title: string;
  readonly about: ChangedObject;
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
  /** Changes with any item of Today. */
  readonly today: number;
  readonly jobs: readonly StripJob[];
  /** `null` for whom it is none of their business. */
  readonly ledger: { readonly sealedAt: string | null; readonly unsealed: boolean } | null;
}

const RULES = AREAS.flatMap((a) => a.rules ?? []);

/** As much of it as the account may be told. */
export async function deskState(ctx: Context, account: Account): Promise<DeskState> {
  if (isKept(account)) return keptState(ctx, account);
  const [shared, assigned] = await Promise.all([
    sharedState(ctx, account),
    countOwn(ctx.store, ctx.now(), [account]),
  ]);
  return withAssigned(shared, assigned.get(account.id));
}

/** What all with the same permissions may be told; of kept counts alone, so that it costs the same whatever there is. */
export async function sharedState(ctx: Context, holder: Holder): Promise<DeskState> {
  const [counts, jobs, ledger, items] = await Promise.all([
    ruleCounts(ctx.store, kindsSeen(holder)),
    recentJobs(ctx, 10),
    may(holder, 'ledger.read') ? sealing(ctx.store) : null,
    countShared(ctx.store, holder),
  ]);
  return stateOf(holder, counts, jobs, ledger, items);
}

const kindsSeen = (holder: Holder, which: (kind: RuleKind<unknown>) => boolean = () => true) =>
  RULES.filter((r) => may(holder, r.see) && which(r.kind)).map((r) => r.kind.object);

/** What somebody who is kept to a part may be told; the ledger is about all of it. */
export async function keptState(ctx: Context, account: Account): Promise<DeskState> {
  const [whole, within, jobs, items] = await Promise.all([
    // Of what belongs to nothing they are kept to, the counts are those of everybody.
    ruleCounts(
      ctx.store,
      kindsSeen(account, (k) => !k.within),
    ),
    countRulesWithin(
      ctx.store,
      kindsSeen(account, (k) => k.within !== undefined),
      account,
    ),
    recentJobs(ctx, 10),
    countKept(ctx.store, ctx.now(), account),
  ]);
  return stateOf(account, addCounts(whole, within), jobs, null, items);
}

function stateOf(
  holder: Holder & Pick<Account, 'scope'>,
  counts: RuleCounts,
  jobs: readonly Job[],
  ledger: DeskState['ledger'],
  items: TodayCount,
): DeskState {
  return {
    ...counts,
    needsHand: items.count,
    today: items.mark,
    jobs: jobs
      .filter((j) => maySeeJob(holder, j))
      .map((j) => ({
        id: j.id,
        kind: j.kind,
        title: j.title,
        about: { object: j.object, id: j.object_id },
        state: j.state,
        progress: j.progress,
        error: j.error,
        link: j.link,
        stopping: j.cancel_asked && j.state === 'running',
        mayCancel: mayCancelJob(holder, j.kind),
      })),
    ledger,
  };
}

/** With what is other on Today for one person. */
export function withAssigned(state: DeskState, items: TodayCount | undefined): DeskState {
  if (!items) return state;
  return {
    ...state,
    needsHand: state.needsHand + items.count,
    today: (state.today ^ items.mark) >>> 0,
  };
}
