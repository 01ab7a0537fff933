import { z } from 'zod';
import type { Reached } from '../../../core/accounts/staff/audience.ts';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import {
  readyRule,
  type Situation,
  type WeighedHandling,
} from '../../../core/protection/handling/decision.ts';
import type { HandlingRuleContent } from '../../../core/protection/handling/handling-rule.ts';
import { everyMember, findMember } from '../../accounts/staff/staff.ts';
import type { Context } from '../../context.ts';
import { itemNames } from '../../holdings/offers.ts';
import { listRules } from '../../rules/rule-store.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import { Count } from '../../store/columns.ts';
import { HANDLING_RULE } from './handling-rules.ts';
import { everyNamedGroup } from './named-groups.ts';

/** What past acts are decided by anew: the rules in force, and people, groups and devices as they are now. */
export interface ReplayGround {
  readonly rules: readonly WeighedHandling[];
  /** Of all handling rules, by their ids. */
  readonly names: ReadonlyMap<string, string>;
  /** A rule made ready, whatever it says. */
  ready(rule: { id: string; version: number; content: HandlingRuleContent }): WeighedHandling;
  where(event: ActivityEvent, device: number): Situation;
}

/** `only` one person and one device, where nobody else acts in what is replayed. */
export async function readReplayGround(
  ctx: Context,
  only?: { readonly person: string; readonly device?: number },
): Promise<ReplayGround> {
  const vocabulary = itemVocabulary(await itemNames(ctx.store));
  const [all, inForce, named, people, devices] = await Promise.all([
    listRules(ctx.store, HANDLING_RULE),
    rulesInForce(ctx.store, HANDLING_RULE),
    everyNamedGroup(ctx.store),
    staffByAddress(ctx, only?.person),
    groupsByDevice(ctx, only?.device),
  ]);
  const fixed = { named: new Map(named), today: ctx.now().toISOString().slice(0, 10) };
  const nobody = new Set<string>();
  const ready: ReplayGround['ready'] = (rule) => readyRule(rule, vocabulary);
  return {
    ready,
    names: new Map(all.map((r) => [r.id, r.name])),
    rules: inForce.map(({ id, version, ...content }) => ready({ id, version, content })),
    where: (event, device) => ({
      ...fixed,
      person: people.get(event.person) ?? { address: event.person, groups: new Map() },
      deviceGroups: devices.get(device) ?? nobody,
    }),
  };
}

/** Who works here, by address; of `only` one where that is said. */
export async function staffByAddress(ctx: Context, only?: string): Promise<ReadonlyMap<string, Reached>> {
  const found = new Map<string, Reached>();
  if (only !== undefined) {
    const member = await findMember(ctx, only);
    return member ? found.set(only, member) : found;
  }
  for await (const member of everyMember(ctx)) found.set(member.address, member);
  return found;
}

async function groupsByDevice(
  ctx: Context,
  only?: number,
): Promise<ReadonlyMap<number, ReadonlySet<string>>> {
  const rows = await ctx.store.all(
    z.object({ device_id: Count, group_id: z.coerce.string() }),
    `SELECT device_id, group_id FROM device_membership${only === undefined ? '' : ' WHERE device_id = ?'}`,
    only === undefined ? [] : [only],
  );
  const found = new Map<number, Set<string>>();
  for (const { device_id, group_id } of rows) {
    const set = found.get(device_id) ?? new Set();
    found.set(device_id, set.add(group_id));
  }
  return found;
}
