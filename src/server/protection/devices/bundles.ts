import { z } from 'zod';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import { canonicalDigest } from '../../../core/evidence/offers.ts';
import {
  RuleBundle,
  type BundledRule,
  type SignedBundle,
} from '../../../core/protection/devices/rule-bundle.ts';
import { readyRule } from '../../../core/protection/handling/decision.ts';
import { itemNames } from '../../holdings/offers.ts';
import { findMember } from '../../accounts/staff/staff.ts';
import type { Context } from '../../context.ts';
import { listRules } from '../../rules/rule-store.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import { knownLevels } from '../levels/levels.ts';
import { HANDLING_RULE } from '../handling/handling-rules.ts';
import { everyNamedGroup } from '../handling/named-groups.ts';
import { signBundle } from './bundle-key.ts';
import { groupsOfDevice, newestBundle, type Device } from './devices.ts';

/** What all bundles have in common now. */
type Common = Pick<RuleBundle, 'rules' | 'named' | 'levels'>;

async function commonNow(ctx: Context): Promise<Common> {
  const vocabulary = itemVocabulary(await itemNames(ctx.store));
  const [inForce, rehearsing, named, levels] = await Promise.all([
    rulesInForce(ctx.store, HANDLING_RULE),
    listRules(ctx.store, HANDLING_RULE, ['rehearsing']),
    everyNamedGroup(ctx.store),
    knownLevels(ctx.store),
  ]);
  const counted = await Promise.all(
    rehearsing.map(async ({ id, stage }) => {
      const version = stage.state === 'rehearsing' ? stage.version : 0;
      return { id, version, content: await readRuleVersion(ctx.store, HANDLING_RULE, id, version) };
    }),
  );
  const bundled = (rule: Pick<BundledRule, 'id' | 'version' | 'content'>, counts: boolean): BundledRule => ({
    ...readyRule(rule, vocabulary),
    rehearsing: counts,
  });
  return {
    rules: [
      ...inForce.map(({ id, version, ...content }) => bundled({ id, version, content }, false)),
      ...counted.map((r) => bundled(r, true)),
    ],
    named: named.map(([id, group]) => [id, group]),
    levels: levels.map((l) => [l.id, l.name]),
  };
}

/**
 * Numbers what stands in bundles now; a number is never given to two. Called when rules, groups or levels may have changed;
 * nothing is written where they did not.
 */
export async function renewBundle(ctx: Context): Promise<number> {
  return (await currentBundle(ctx)).number;
}

async function currentBundle(ctx: Context): Promise<{ readonly number: number; readonly common: Common }> {
  const common = await commonNow(ctx);
  const digest = Buffer.from(canonicalDigest(common), 'hex');
  const number = await ctx.store.transaction(async (tx) => {
    const last = await tx.one(
      z.object({ number: z.number(), digest: Bytes }),
      'SELECT number, digest FROM rule_bundle ORDER BY number DESC LIMIT 1 FOR UPDATE',
    );
    if (last?.digest.equals(digest)) return last.number;
    return (
      await tx.run('INSERT INTO rule_bundle (digest, made_at) VALUES (?)', [[digest, toDatetime(ctx.now())]])
    ).id;
  });
  return { number, common };
}

/** The bundle for a device, signed. Of somebody who is not on the list of staff only rules for anyone hold. */
export async function bundleFor(ctx: Context, device: Device): Promise<SignedBundle> {
  const [{ number, common }, groups, member] = await Promise.all([
    currentBundle(ctx),
    groupsOfDevice(ctx.store, device.id),
    findMember(ctx, device.person),
  ]);
  const bundle = RuleBundle.parse({
    ...{ number, madeAt: ctx.now().toISOString(), device: device.id, ...common, deviceGroups: groups },
    person: {
      address: device.person,
      groups: [...(member?.groups ?? new Map<string, number>())],
      ...(member?.unit ? { unit: member.unit } : {}),
    },
  });
  const text = JSON.stringify(bundle);
  return { bundle: text, signature: signBundle(ctx, text) };
}

/** Notes that a device came in, with how far its clock is off, and which rules it says it has. */
export async function deviceCameIn(
  ctx: Context,
  device: Device,
  told: {
    readonly now?: string | undefined;
    readonly bundle?: number | undefined;
    readonly trouble?: string;
  },
): Promise<{ readonly aheadMs: number }> {
  const now = ctx.now();
  const aheadMs = told.now === undefined ? device.aheadMs : Date.parse(told.now) - now.getTime();
  // It cannot have rules that were never made.
  const newest = await newestBundle(ctx.store);
  const bundle = told.bundle !== undefined && told.bundle <= newest ? told.bundle : null;
  await ctx.store.run(
    'UPDATE device SET seen_at = ?, ahead_ms = ?, trouble = ?, bundle_at = IF(? IS NULL OR bundle <=> ?, bundle_at, ?), bundle = COALESCE(?, bundle) WHERE id = ?',
    [...[toDatetime(now), aheadMs, told.trouble ?? '', bundle, bundle, toDatetime(now), bundle, device.id]],
  );
  return { aheadMs };
}
