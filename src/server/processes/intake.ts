import { AREAS } from '../areas.ts';
import { openContext } from '../context.ts';
import { guardedServer, surviveErrors } from './guarded-server.ts';
import { Health } from './health.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';

const PATIENCE = { headMs: 5000, wholeMs: 5000 };

/** Takes what other systems tell by their own ways, as areas listen for it. */
export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  const open = (await Promise.all(AREAS.map((a) => a.intake?.(ctx) ?? []))).flat();
  const health = new Health(ctx.store);
  const server = guardedServer('intake', PATIENCE, (_request, response) => health.answer(response));
  await serve(server, ctx.settings.INTAKE_PORT, ctx.settings.HOST, 'INTAKE_PORT');
  surviveErrors('intake');
  endOnSignal(async () => {
    server.close();
    await Promise.all(open.map((o) => o.close()));
    await ctx.store.close();
  });
}
