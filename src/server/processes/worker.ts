import { join } from 'node:path';
import { forgetOldSessions } from '../accounts/session.ts';
import { openContext, type Context } from '../context.ts';
import { seal } from '../evidence/ledger.ts';
import { noteHead } from '../evidence/noted-head.ts';
import { Runner, type JobKind } from '../jobs/runner.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';
import { logFailure } from './failure-log.ts';
import { guardedServer, surviveErrors } from './guarded-server.ts';
import { Health } from './health.ts';
import { ensureMonths } from '../store/partitions.ts';
import { buildRosterJob } from '../holdings/detection/roster/roster-builds.ts';
import { trainJob } from '../holdings/detection/learned/trainings.ts';
import { forgetOldUploads } from '../files/uploads.ts';
import { tellToday } from '../desk/told-item.ts';
import { forgetOldTurns } from '../websites/consents/consents.ts';
import { fixTrialJob } from '../websites/trackers/fix-trials.ts';
import { installCheckJob } from '../websites/sites/install-check.ts';
import { sweepJob } from '../websites/sweeps/sweep-job.ts';
import { removeLeftVisits } from '../websites/crawl/browser/confinement.ts';
import { settleSweeps, startDueSweeps } from '../websites/sweeps/sweep-upkeep.ts';

export const JOB_KINDS: readonly JobKind[] = [
  sweepJob,
  installCheckJob,
  fixTrialJob,
  buildRosterJob,
  trainJob,
];

const SEAL_EVERY_MS = 5_000;
const UPKEEP_EVERY_MS = 10_000;
const KEEP_HOUSE_EVERY_MS = 3600_000;
const PATIENCE = { headMs: 5000, wholeMs: 5000 };

export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  await removeLeftVisits(join(ctx.settings.DATA_DIR, 'profiles'));
  const runner = new Runner(ctx, JOB_KINDS, 2);
  runner.start();
  const timers = [
    every(SEAL_EVERY_MS, () => sealAndNote(ctx)),
    every(UPKEEP_EVERY_MS, () => startDueSweeps(ctx)),
    every(UPKEEP_EVERY_MS, () => settleSweeps(ctx)),
    every(KEEP_HOUSE_EVERY_MS, () => keepHouse(ctx)),
  ];
  const health = new Health(ctx.store);
  const server = guardedServer('worker', PATIENCE, (_request, response) => health.answer(response));
  await serve(server, ctx.settings.WORKER_PORT, ctx.settings.HOST, 'WORKER_PORT');
  surviveErrors('worker');
  endOnSignal(async () => {
    timers.forEach(clearInterval);
    server.close();
    await runner.stop();
    await ctx.store.close();
  });
}

/** Seals, and notes the head where a start finds it that is on another database, or on less of this one. */
async function sealAndNote(ctx: Context): Promise<void> {
  await seal(ctx.store, ctx.now());
  const lost = await noteHead(ctx.store, ctx.settings.DATA_DIR);
  if (!lost) return;
  logFailure('the ledger lacks a head that was noted', new Error(lost.head), { tree: lost.number });
  await tellToday(ctx.store, ctx.now(), {
    kind: 'ledger',
    key: String(lost.number),
    action: 'ledger.read',
    words: 'The ledger is not the one it was: a head that was noted is missing',
    detail: `Tree ${lost.number}, sealed ${lost.sealedAt}, head ${lost.head.slice(0, 16)}…: the database was cut, rewritten or brought back from an older copy`,
    link: '/evidence/ledger?verify=now',
  });
}

async function keepHouse(ctx: Context): Promise<void> {
  await forgetOldSessions(ctx);
  await forgetOldUploads(ctx);
  await forgetOldTurns(ctx);
  await ensureMonths(ctx.store, ctx.now(), ctx.now());
}

/** Runs `work` now and then, never twice at once; a failure is logged and tried again. */
function every(ms: number, work: () => Promise<unknown>): NodeJS.Timeout {
  let busy = false;
  const once = () => {
    if (busy) return;
    busy = true;
    work()
      .catch((error: unknown) => logFailure('regular work failed', error))
      .finally(() => (busy = false));
  };
  once();
  return setInterval(once, ms);
}
