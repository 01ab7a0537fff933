import { readdir, rm } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { forgetOldSessions } from './accounts/session.ts';
import { openContext, type Context } from './context.ts';
import { seal } from './evidence/ledger.ts';
import { Runner, type JobKind } from './jobs/runner.ts';
import { log } from './log.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';
import { ensureMonths } from './store/partitions.ts';
import { buildRosterJob } from './holdings/roster-builds.ts';
import { trainJob } from './holdings/trainings.ts';
import { forgetOldUploads } from './uploads.ts';
import { fixTrialJob } from './websites/fix-trials.ts';
import { installCheckJob } from './websites/install-check.ts';
import { sweepJob } from './websites/sweep-job.ts';
import { settleSweeps, startDueSweeps } from './websites/sweep-upkeep.ts';

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

export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  await removeOldProfiles(ctx);
  const runner = new Runner(ctx, JOB_KINDS, 2);
  runner.start();
  const timers = [
    every(SEAL_EVERY_MS, () => seal(ctx.store, ctx.now())),
    every(UPKEEP_EVERY_MS, () => startDueSweeps(ctx)),
    every(UPKEEP_EVERY_MS, () => settleSweeps(ctx)),
    every(KEEP_HOUSE_EVERY_MS, () => keepHouse(ctx)),
  ];
  const server = createServer((_request, response) => response.end('ok'));
  await serve(server, ctx.settings.WORKER_PORT, ctx.settings.HOST, 'WORKER_PORT');
  endOnSignal(async () => {
    timers.forEach(clearInterval);
    server.close();
    await runner.stop();
    await ctx.store.close();
  });
}

async function keepHouse(ctx: Context): Promise<void> {
  await forgetOldSessions(ctx);
  await forgetOldUploads(ctx);
  await ensureMonths(ctx.store, ctx.now(), ctx.now());
}

/** Profiles of browsers that a killed worker left; those in use were touched within the day. */
async function removeOldProfiles(ctx: Context): Promise<void> {
  const folder = join(ctx.settings.DATA_DIR, 'profiles');
  for (const name of await readdir(folder).catch(() => []))
    await rm(join(folder, name), { recursive: true, force: true }).catch(() => {});
}

/** Runs `work` now and then, never twice at once; a failure is logged and tried again. */
function every(ms: number, work: () => Promise<unknown>): NodeJS.Timeout {
  let busy = false;
  const once = () => {
    if (busy) return;
    busy = true;
    work()
      .catch((error: Error) => log.error({ err: error.message }, 'regular work failed'))
      .finally(() => (busy = false));
  };
  once();
  return setInterval(once, ms);
}
