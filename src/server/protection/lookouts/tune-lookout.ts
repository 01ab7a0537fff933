import { EVENT_KINDS, type EventKind } from '../../../core/protection/activity/event.ts';
import { sightMs } from '../../../core/protection/lookouts/lookout.ts';
import { Tuning, type TuningFigures } from '../../../core/protection/lookouts/tuning.ts';
import type { Context } from '../../context.ts';
import { readRule } from '../../rules/rule-store.ts';
import { daysKept } from '../activity/activity-kept.ts';
import { eventsSince } from '../activity/event-store.ts';
import { readPeople } from './people.ts';
import { LOOKOUT } from './lookouts.ts';
import { watchedOnly } from './watch-events.ts';

const DAY = 86_400_000;

export interface LookoutOutlook extends TuningFigures {
  readonly days: number;
  /** What it watches and what is not kept, or for fewer days than it counts. */
  readonly blind: readonly { readonly kind: EventKind; readonly kept: number; readonly needs: number }[];
}

/** What the draft of a lookout would have raised over the last days: real acts, seen by the core that watches. */
export async function lookoutOutlook(ctx: Context, id: string, days: number): Promise<LookoutOutlook> {
  const [{ content }, kept, situationOf] = await Promise.all([
    readRule(ctx.store, LOOKOUT, id),
    daysKept(ctx.store),
    readPeople(ctx),
  ]);
  const { watch } = content;
  const now = ctx.now();
  const from = new Date(now.getTime() - days * DAY);
  const tuning = new Tuning(watch, from.toISOString());
  const sight = new Date(from.getTime() - sightMs(watch));
  for await (const events of eventsSince(ctx.store, sight, now, watchedOnly(watch)))
    for (const { event, device } of events) tuning.add(event, device, situationOf(event));
  const needs =
    watch.when.is === 'unusual'
      ? watch.when.days
      : watch.when.is === 'more than'
        ? Math.ceil(watch.when.minutes / 1440)
        : 1;
  const asked = watch.kinds.length > 0 ? watch.kinds : EVENT_KINDS;
  return {
    ...tuning.figures(),
    days,
    blind: asked
      .filter((kind) => kept[kind] === 0 || (watch.kinds.length > 0 && kept[kind] < needs))
      .map((kind) => ({ kind, kept: kept[kind], needs })),
  };
}
