import { z } from 'zod';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import { canonicalDigest } from '../../../core/evidence/offers.ts';
import {
  RuleBundle,
  type BundledRule,
  type SignedBundle,
} from '../../../core/protection/devices/rule-bundle.ts';
import { readyRule } from '../../../core/protection/handling/decision.ts';
import { itemNames, ownPatterns } from '../../holdings/offers.ts';
import { findMember } from '../../accounts/staff/staff.ts';
import type { Context } from '../../context.ts';
import { listRules } from '../../rules/rule-store.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { Bytes, Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { knownLevels } from '../levels/levels.ts';
import { HANDLING_RULE } from '../handling/handling-rules.ts';
import { everyNamedGroup } from '../handling/named-groups.ts';
import { evidenceKey } from '../evidence/evidence-key.ts';
import { answersFor } from '../questions/questions.ts';
import { signBundle } from './bundle-key.ts';
import { groupsOfDevice, newestBundle, type Device } from './devices.ts';

/** What all bundles have in common now. */
const CommonPart = RuleBundle.pick({ rules: true, named: true, levels: true, detectors: true });
type Common = Pick<RuleBundle, 'rules' | 'named' | 'levels' | 'detectors'>;

async function commonNow(ctx: Context): Promise<Common> {
  const vocabulary = itemVocabulary(await itemNames(ctx.store));
  const [inForce, rehearsing, named, levels, detectors] = await Promise.all([
    rulesInForce(ctx.store, HANDLING_RULE),
    listRules(ctx.store, HANDLING_RULE, ['rehearsing']),
    everyNamedGroup(ctx.store),
    knownLevels(ctx.store),
    ownPatterns(ctx.store),
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
    detectors: [...detectors],
  };
}

/**
 * Numbers what stands in bundles now, and keeps it for devices; a number is never given to two. Called every few seconds:
 * nothing is written where rules, groups and levels did not change.
 */
export async function renewBundle(ctx: Context): Promise<number> {
  const common = await commonNow(ctx);
  const digest = Buffer.from(canonicalDigest(common), 'hex');
  return ctx.store.transaction(async (tx) => {
    const last = await tx.one(
      z.object({ number: z.number(), digest: Bytes, empty: Count }),
      'SELECT number, digest, content IS NULL AS empty FROM rule_bundle ORDER BY number DESC LIMIT 1 FOR UPDATE',
    );
    if (last?.digest.equals(digest) && last.empty === 0) return last.number;
    const { id } = await tx.run('INSERT INTO rule_bundle (digest, content, made_at) VALUES (?)', [
      [digest, JSON.stringify(common), toDatetime(ctx.now())],
    ]);
    await tx.run('UPDATE rule_bundle SET content = NULL WHERE number < ? AND content IS NOT NULL', [id]);
    return id;
  });
}

/** The newest that was read, by the store it is of: every device asks for the same. */
const READ = new WeakMap<Queries, { readonly number: number; readonly common: Common }>();

async function newestCommon(ctx: Context): Promise<{ readonly number: number; readonly common: Common }> {
  for (let tries = 0; tries < 10; tries++) {
    const number = (await newestBundle(ctx.store)) || (await renewBundle(ctx));
    const read = READ.get(ctx.store);
    if (read?.number === number) return read;
    const row = await ctx.store.one(
      z.object({ content: JsonColumn(CommonPart).nullable() }),
      'SELECT content FROM rule_bundle WHERE number = ?',
      [number],
    );
    if (!row?.content) {
      // A newer one was made in between; or somebody took it away.
      await renewBundle(ctx);
      continue;
    }
    const kept = { number, common: row.content };
    READ.set(ctx.store, kept);
    return kept;
  }
  throw new Error('The rules for devices change faster than they can be read.');
}

/** The bundle for a device, signed. Of somebody who is not on the list of staff only rules for anyone hold. */
export async function bundleFor(ctx: Context, device: Device): Promise<SignedBundle> {
  const [{ number, common }, groups, member, said] = await Promise.all([
    newestCommon(ctx),
    groupsOfDevice(ctx.store, device.id),
    findMember(ctx, device.person),
    answersFor(ctx, device),
  ]);
  const bundle = RuleBundle.parse({
    ...{ number, madeAt: ctx.now().toISOString(), device: device.id, ...common, deviceGroups: groups },
    ...{ ...said, sealFor: evidenceKey(ctx) },
    person: {
      address: device.person,
      groups: [...(member?.groups ?? new Map<string, number>())],
      ...(member?.unit ? { unit: member.unit } : {}),
    },
  });
  const text = JSON.stringify(bundle);
  return { bundle: text, signature: signBundle(ctx, text) };
}

/** The same for mail of a person on its way out, which is of no device. */
export async function mailBundle(ctx: Context, person: string): Promise<RuleBundle> {
  const [{ number, common }, member, said] = await Promise.all([
    newestCommon(ctx),
    findMember(ctx, person),
    answersFor(ctx, { id: 0, person }),
  ]);
  return {
    ...{
      number,
      madeAt: ctx.now().toISOString(),
      device: 0,
      ...common,
      deviceGroups: [],
      ...said,
      sealFor: '',
    },
    person: {
      address: person,
      groups: [...(member?.groups ?? new Map<string, number>())],
      ...(member?.unit ? { unit: member.unit } : {}),
    },
  };
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
