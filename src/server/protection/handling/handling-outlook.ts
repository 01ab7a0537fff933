import { CHANNELS } from '../../../core/protection/handling/channel.ts';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import { Rehearsal, type RehearsalFigures } from '../../../core/protection/handling/rehearsal.ts';
import { versionInForce } from '../../../core/rules/rule.ts';
import { clausesOf, type Lens } from '../../../core/lens/lens.ts';
import { unlikePatterns } from '../../holdings/offers.ts';
import type { Context } from '../../context.ts';
import { readRule } from '../../rules/rule-store.ts';
import { readReplayGround } from './replay-ground.ts';
import { eventsSince } from '../activity/event-store.ts';
import { behindCounts } from '../devices/device-list.ts';
import { HANDLING_RULE } from './handling-rules.ts';

export interface HandlingOutlook extends RehearsalFigures {
  readonly days: number;
  /** Devices in step, and all that are in. */
  readonly inStep: number;
  readonly devices: number;
  /** Detectors that it names and that devices cannot know, by name: they need data of their own. */
  readonly unknownToDevices: readonly string[];
}

/**
 * What a rule would have done over the last days, if its draft had been in force: real acts, replayed through the core
 * that decides on devices. People and groups are taken as they are now.
 */
export async function handlingOutlook(ctx: Context, id: string, days: number): Promise<HandlingOutlook> {
  const { rules, mine, before, where } = await replayGround(ctx, id);
  const rehearsal = new Rehearsal(mine, rules, before);
  const since = new Date(ctx.now().getTime() - days * 86_400_000);
  const ways = new Set([
    ...Object.keys(mine.content.channels),
    ...Object.keys(before?.content.channels ?? {}),
  ]);
  for await (const events of eventsSince(ctx.store, since, ctx.now(), { channels: [...ways] }))
    for (const { event, device } of events) rehearsal.add(event, where(event, device));
  const unlike = await unlikePatterns(ctx.store);
  const unknownToDevices = detectorsOf(mine.content.lens).flatMap((d) => unlike.get(d) ?? []);
  return { ...rehearsal.figures(), days, unknownToDevices, ...(await behindCounts(ctx)) };
}

/** Detectors that a lens names. */
function detectorsOf(lens: Lens): readonly string[] {
  const found = clausesOf(lens).flatMap((c) => {
    const [, of] = /^(?:matches|confidence):(.+)$/.exec(c.fact) ?? [];
    if (of !== undefined) return [of];
    return (c.fact === 'data' || c.fact === 'document') && c.is === 'one of' ? c.values : [];
  });
  return [...new Set(found)];
}

export interface DayOfPerson {
  readonly person: string;
  readonly day: string;
  readonly acts: readonly {
    readonly event: ActivityEvent;
    /** What this rule would have come to. */
    readonly wants: 'record' | 'ask' | 'stop' | undefined;
  }[];
}

/** One person’s day as it would have been. */
export async function dayOfPerson(
  ctx: Context,
  id: string,
  person: string,
  day: string,
): Promise<DayOfPerson> {
  const { mine, where } = await replayGround(ctx, id, person);
  const rehearsal = new Rehearsal(mine, []);
  const acts: DayOfPerson['acts'][number][] = [];
  const from = new Date(`${day}T00:00:00Z`);
  const until = new Date(from.getTime() + 86_400_000);
  for await (const events of eventsSince(ctx.store, from, until, { person, channels: CHANNELS }))
    for (const { event, device } of events)
      acts.push({ event, wants: rehearsal.add(event, where(event, device))?.wants });
  return { person, day, acts };
}

/** The draft of a rule, the rules beside it, and where acts are replayed. */
export async function replayGround(ctx: Context, id: string, person?: string) {
  const [{ content, stage }, ground] = await Promise.all([
    readRule(ctx.store, HANDLING_RULE, id),
    readReplayGround(ctx, person === undefined ? undefined : { person }),
  ]);
  return {
    where: ground.where,
    mine: ground.ready({ id, version: versionInForce(stage) ?? 0, content }),
    rules: ground.rules.filter((r) => r.id !== id),
    before: ground.rules.find((r) => r.id === id),
  };
}
