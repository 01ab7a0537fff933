import { Use, type UseReport } from '../../../core/protection/use/use-report.ts';
import type { Context } from '../../context.ts';
import { eventsSince } from '../activity/event-store.ts';
import { staffByAddress } from '../handling/replay-ground.ts';

export interface UseOfRules extends UseReport {
  readonly days: number;
}

/** How rules were met over the last days, from what was told. */
export async function useOfRules(ctx: Context, days: number): Promise<UseOfRules> {
  const people = await staffByAddress(ctx);
  const use = new Use();
  const since = new Date(ctx.now().getTime() - days * 86_400_000);
  for await (const events of eventsSince(ctx.store, since, ctx.now(), {
    outcomes: ['record', 'ask', 'stop'],
  }))
    for (const { event } of events) use.add(event, people.get(event.person)?.unit ?? '');
  return { ...use.report(), days };
}
