import { motionOf } from '../../../core/protection/activity/event.ts';
import { decide, type Decision } from '../../../core/protection/handling/decision.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { readReplayGround } from '../handling/replay-ground.ts';
import { findEvent, type KeptEvent } from './event-store.ts';

export interface ExplainedEvent extends KeptEvent {
  /** What the rules of now come to; `undefined` where nothing was put in motion. */
  readonly now: Decision | undefined;
  /** Names of rules by their ids. */
  readonly rules: Readonly<Record<string, string>>;
}

/** One event, and what the rules that are in force now say of it. Throws a RefusedError (404). */
export async function explainEvent(ctx: Context, at: string, id: string): Promise<ExplainedEvent> {
  const kept = await findEvent(ctx.store, at, id);
  if (!kept) throw notFound('event');
  const ground = await readReplayGround(ctx, { person: kept.event.person, device: kept.device });
  const motion = motionOf(kept.event);
  return {
    ...kept,
    now: motion && decide(motion, ground.where(kept.event, kept.device), ground.rules),
    rules: Object.fromEntries(ground.names),
  };
}
