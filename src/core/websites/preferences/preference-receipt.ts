import { z } from 'zod';
import { canonicalDigest } from '../../evidence/canonical.ts';

/** What somebody’s choice did to the one before it. */
export const PREFERENCE_ACTS = ['first', 'repeated', 'changed', 'left', 'came back'] as const;
export type PreferenceAct = (typeof PREFERENCE_ACTS)[number];

/** How it came: by their link, by the one click of a mail (RFC 8058), by an account here, or with a list. */
export const SAID_BY = ['link', 'one click', 'account', 'list'] as const;
export type SaidBy = (typeof SAID_BY)[number];

/** How and about what somebody may be written to. */
export interface Preference {
  readonly channels: readonly string[];
  readonly topics: readonly string[];
}

export const NO_PREFERENCE: Preference = { channels: [], topics: [] };

/** Nothing can reach them: no way is open, or there is nothing to tell. */
export function getsNothing({ channels, topics }: Preference): boolean {
  return channels.length === 0 || topics.length === 0;
}

/** One that gets nothing has nothing open, so that nobody takes half of it for a yes. */
export function settledPreference(asked: Preference, { channels, topics }: Preference): Preference {
  const said = {
    channels: asked.channels.filter((c) => channels.includes(c)),
    topics: asked.topics.filter((t) => topics.includes(t)),
  };
  return getsNothing(said) ? NO_PREFERENCE : said;
}

/** `before` is how it stood, or `undefined` where nothing was ever on record. */
export function preferenceAct(before: Preference | undefined, now: Preference): PreferenceAct {
  const nothing = getsNothing(now);
  if (before === undefined) return nothing ? 'left' : 'first';
  const was = getsNothing(before);
  if (nothing) return was ? 'repeated' : 'left';
  if (was) return 'came back';
  return same(before.channels, now.channels) && same(before.topics, now.topics) ? 'repeated' : 'changed';
}

function same(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((x) => b.includes(x));
}

/** The proof of one choice. It tells by a random key whose it is, and nothing else of them. */
export const PreferenceReceipt = z.strictObject({
  id: z.string(),
  /** ISO 8601, UTC. */
  at: z.string(),
  person: z.string().regex(/^[0-9a-f]{32}$/),
  /** Version of the page that asked. */
  page: z.int(),
  asked: z.strictObject({ channels: z.array(z.string()).readonly(), topics: z.array(z.string()).readonly() }),
  channels: z.array(z.string()).readonly(),
  topics: z.array(z.string()).readonly(),
  act: z.enum(PREFERENCE_ACTS),
  by: z.enum(SAID_BY),
  /** Why they left; empty where they did not say. */
  reason: z.string(),
  language: z.string(),
});
export type PreferenceReceipt = z.infer<typeof PreferenceReceipt>;

/** SHA-256 over its RFC 8785 canonical JSON, in hexadecimal; this is what the ledger keeps. */
export function preferenceDigest(receipt: PreferenceReceipt): string {
  return canonicalDigest(receipt);
}
