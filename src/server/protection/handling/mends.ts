import { Mending, type Mends } from '../../../core/protection/handling/mend.ts';
import type { Context } from '../../context.ts';
import { eventsSince } from '../activity/event-store.ts';
import { replayGround } from './handling-outlook.ts';

/** What to change about the draft of a rule so that it is wrong less often, by what people said over the last days. */
export async function mendsOf(ctx: Context, id: string, days: number): Promise<Mends> {
  const { mine, where } = await replayGround(ctx, id);
  const mending = new Mending(mine);
  const since = new Date(ctx.now().getTime() - days * 86_400_000);
  const confronted = { channels: Object.keys(mine.content.channels), outcomes: ['ask', 'stop'] };
  for await (const events of eventsSince(ctx.store, since, ctx.now(), confronted))
    for (const { event, device } of events) mending.add(event, where(event, device));
  return mending.mends();
}
