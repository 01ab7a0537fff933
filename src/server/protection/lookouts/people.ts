import type { Reached } from '../../../core/accounts/staff/audience.ts';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import type { Situation } from '../../../core/protection/handling/decision.ts';
import type { Context } from '../../context.ts';
import { staffByAddress } from '../handling/replay-ground.ts';

/** Where lookouts see acts: people as they are now; devices and named groups play no part. */
export async function readPeople(ctx: Context): Promise<(event: ActivityEvent) => Situation> {
  const people: ReadonlyMap<string, Reached> = await staffByAddress(ctx);
  const fixed = {
    deviceGroups: new Set<string>(),
    named: new Map(),
    today: ctx.now().toISOString().slice(0, 10),
  };
  return ({ person }) => ({
    ...fixed,
    person: people.get(person) ?? { address: person, groups: new Map<string, number>() },
  });
}
