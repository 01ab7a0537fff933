import { z } from 'zod';
import { canonicalDigest } from '../../evidence/canonical.ts';
import { FromWhere } from './from-where.ts';
import { PurposeCode } from './purpose-code.ts';

export const CHOICES = ['allowed all', 'allowed some', 'refused all'] as const;
export type Choice = (typeof CHOICES)[number];

/** What a choice did to the one before it by the same visitor. */
export const CHOICE_ACTS = ['first', 'repeated', 'changed', 'withdrawn'] as const;
export type ChoiceAct = (typeof CHOICE_ACTS)[number];

/** What the visitor's browser sends. */
export const ChoiceSent = z.strictObject({
  version: z.int().positive(),
  allowed: z.array(PurposeCode).max(12),
  language: z
    .string()
    .max(20, 'a language tag of at most 20 characters')
    .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'a language tag such as “en”'),
  /** 128 random bits made by the visitor's browser when it first chooses. */
  visitorKey: z.string().regex(/^[0-9a-f]{32}$/, '32 hexadecimal digits'),
  /** 128 random bits made for this choice alone: sent again, it is the same choice. */
  choiceKey: z.string().regex(/^[0-9a-f]{32}$/, '32 hexadecimal digits'),
  /** What the notice came with, which tells that this version was shown; empty in a rehearsal. */
  shown: z.string().max(60),
  /** What the Transparency and Consent Framework’s tags are told; empty where the site takes no part in it. */
  tc: z
    .string()
    .max(4000, 'a TC string of at most 4000 characters')
    .regex(/^[\w.-]*$/, 'a TC string')
    .default(''),
  ...FromWhere.shape,
});
export type ChoiceSent = z.infer<typeof ChoiceSent>;
/** As it may arrive: a browser may not have told from where. */
export type ChoiceArriving = z.input<typeof ChoiceSent>;

/** A receipt: the proof of one choice, without anything that would tell who made it. */
export const Receipt = z.strictObject({
  id: z.string(),
  /** ISO 8601, UTC. */
  at: z.string(),
  site: z.string(),
  notice: z.int(),
  asked: z.array(PurposeCode).readonly(),
  allowed: z.array(PurposeCode).readonly(),
  choice: z.enum(CHOICES),
  act: z.enum(CHOICE_ACTS),
  language: z.string(),
  region: z.string(),
  /** TC string of the framework, where the site takes part in it. */
  tc: z.string().optional(),
});
export type Receipt = z.infer<typeof Receipt>;

export function choiceMade(asked: readonly string[], allowed: readonly string[]): Choice {
  const granted = asked.filter((p) => allowed.includes(p));
  if (granted.length === 0) return 'refused all';
  return granted.length === asked.length ? 'allowed all' : 'allowed some';
}

/** `before` is what the visitor had allowed, or `undefined` at their first choice. */
export function choiceAct(before: readonly string[] | undefined, now: readonly string[]): ChoiceAct {
  if (before === undefined) return 'first';
  const kept = before.filter((p) => now.includes(p));
  if (kept.length === before.length && now.length === before.length) return 'repeated';
  return before.length > 0 && now.length === 0 ? 'withdrawn' : 'changed';
}

/** SHA-256 over the receipt's RFC 8785 canonical JSON, in hexadecimal; this is what the ledger keeps. */
export function receiptDigest(receipt: Receipt): string {
  return canonicalDigest(receipt);
}
