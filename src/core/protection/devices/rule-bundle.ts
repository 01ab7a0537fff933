import { z } from 'zod';
import { HandlingRuleContent } from '../handling/handling-rule.ts';
import { PatternDetector } from '../../holdings/offers.ts';
import { NamedGroup } from '../handling/named-group.ts';
import type { Reached } from '../../accounts/staff/audience.ts';
import { isAmongFirst, type Situation, type WeighedHandling } from '../handling/decision.ts';

const BundledRule = z.strictObject({
  id: z.string().max(20),
  version: z.int().min(0),
  content: HandlingRuleContent,
  /** Its lens names something that is gone: it holds nowhere. */
  broken: z.boolean(),
  /** It only counts: nobody is asked or stopped by it. */
  rehearsing: z.boolean(),
});

/** What a device decides by, for the person whose it is. */
export const RuleBundle = z.strictObject({
  /** Rises with every change of what stands in it. */
  number: z.int().min(1),
  madeAt: z.iso.datetime(),
  /** Of the device it is for: one device’s bundle says nothing to another. */
  device: z.int().min(1),
  rules: z.array(BundledRule).max(500),
  named: z.array(z.tuple([z.string(), NamedGroup])).max(5000),
  deviceGroups: z.array(z.string()).max(500),
  person: z.strictObject({
    address: z.string(),
    groups: z.array(z.tuple([z.string(), z.number()])).max(5000),
    unit: z.string().optional(),
  }),
  /** What the officer lets this person do for now: rules that do not hold for them until then. */
  passes: z
    .array(z.strictObject({ rule: z.string().max(20), until: z.iso.datetime() }))
    .max(200)
    .default([]),
  /** What the officer answered to questions that were asked on this device. */
  answers: z
    .array(
      z.strictObject({
        /** The event that was asked about. */
        event: z.string(),
        allowed: z.boolean(),
        words: z.string(),
        until: z.iso.datetime().nullable(),
      }),
    )
    .max(200)
    .default([]),
  /** Copies are sealed for this key (X25519, RFC 7748): 32 bytes in base64url; empty where nothing is kept. */
  sealFor: z.string().max(60).default(''),
  /** The organisation’s own patterns, beside those that ship; one of the same id takes its place. */
  detectors: z.array(PatternDetector).max(500).default([]),
  /** Levels by their ids, for what people read. */
  levels: z.array(z.tuple([z.string(), z.string()])).max(100),
});
export type RuleBundle = z.infer<typeof RuleBundle>;
export type BundledRule = z.infer<typeof BundledRule>;

/** A bundle as it is sent: its text, and the signature over just that text (Ed25519, RFC 8032), in base64url. */
export const SignedBundle = z.strictObject({
  bundle: z.string().max(50_000_000),
  signature: z.string().regex(/^[\w-]{86}$/),
});
export type SignedBundle = z.infer<typeof SignedBundle>;

/** What is decided by a bundle: the rules that decide, those that only count, and where. `now` in ISO 8601. */
export function situationOf(
  bundle: RuleBundle,
  now: string,
): {
  readonly situation: Situation;
  readonly rules: readonly WeighedHandling[];
  readonly counted: readonly WeighedHandling[];
} {
  const { address, groups, unit } = bundle.person;
  const person: Reached = { address, groups: new Map(groups), ...(unit === undefined ? {} : { unit }) };
  const situation = {
    person,
    deviceGroups: new Set(bundle.deviceGroups),
    named: new Map(bundle.named),
    today: now.slice(0, 10),
    passes: new Set(bundle.passes.filter((p) => p.until > now).map((p) => p.rule)),
  };
  return {
    situation,
    rules: bundle.rules.filter((r) => !r.rehearsing),
    // A rule that has not begun with this one counts as if under rehearsal.
    counted: bundle.rules
      .filter((r) => r.rehearsing || !isAmongFirst(r.content, person))
      .map((r) => ({ ...r, content: { ...r.content, first: [] } })),
  };
}
