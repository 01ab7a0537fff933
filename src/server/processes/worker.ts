import type { Upkeep } from '../area.ts';
import { AREAS } from '../areas.ts';
import { openContext } from '../context.ts';
import { keepFigures } from '../desk/figures.ts';
import { JOB_KINDS } from '../desk/job-authority.ts';
import { recountRules } from '../desk/recount-rules.ts';
import { Runner } from '../jobs/runner.ts';
import { logFailure } from './failure-log.ts';
import { guardedServer, surviveErrors } from './guarded-server.ts';
import { Health } from './health.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';

const PATIENCE = { headMs: 5000, wholeMs: 5000 };

/** Of all areas together. */
const COMMON: readonly Upkeep[] = [
  // What is kept with every move is counted anew now and then.
  { name: 'counts of rules', everyMs: 3_600_000, work: (ctx) => ctx.store.transaction(recountRules) },
  { name: 'figures', everyMs: 900_000, work: keepFigures },
];

/** Does the jobs of all areas, and what each has to do now and then. */
export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  for (const { begin } of AREAS) await begin?.(ctx);
  const runner = new Runner(ctx, [...JOB_KINDS.values()]);
  runner.start();
  const timers = [...COMMON, ...AREAS.flatMap((a) => a.upkeep ?? [])].map(({ name, everyMs, work }) =>
    every(name, everyMs, () => work(ctx)),
  );
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

/** Runs `work` now and then, never twice at once; a failure is logged and tried again. */
function every(name: string, ms: number, work: () => Promise<unknown>): NodeJS.Timeout {
  let busy = false;
  const once = () => {
    if (busy) return;
    busy = true;
    work()
      .catch((error: unknown) => logFailure('regular work failed', error, { work: name }))
      .finally(() => (busy = false));
  };
  once();
  return setInterval(once, ms);
}
