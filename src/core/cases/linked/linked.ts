import { z } from 'zod';
import type { Recipient } from '../../holdings/offers.ts';

const Id = z.string().regex(/^\d{1,9}$/);

/** What of the program something is about: ids of activities, systems and sites. */
export const Links = z.strictObject({
  activities: z.array(Id).max(50),
  systems: z.array(Id).max(50),
  sites: z.array(Id).max(50),
});
export type Links = z.infer<typeof Links>;
export const NO_LINKS: Links = { activities: [], systems: [], sites: [] };

/** A kind of data: in a record, found by a survey, or both. */
export interface LinkedData {
  readonly detector: string;
  readonly name: string;
  readonly category: string;
  readonly recorded: boolean;
  /** In how many items. */
  readonly items: number;
}

export interface LinkedTracker {
  readonly id: number;
  readonly name: string;
  readonly host: string;
  readonly purpose: string | null;
  readonly site: string;
  readonly firstSeen: string;
}

/** An AI system that works on the same. */
export interface LinkedMachine {
  readonly id: string;
  readonly name: string;
  /** It decides by itself, and nobody in its place. */
  readonly decides: boolean;
}

/** What accounts of a firm get to of ours. */
export interface LinkedReach {
  readonly accounts: readonly { readonly key: string; readonly name: string }[];
  /** Of which those that are named are the first. */
  readonly accountCount: number;
  readonly places: number;
  /** In which people were found. */
  readonly items: number;
  readonly people: number;
  /** Kinds of sensitive data that lie there, by name. */
  readonly data: readonly string[];
}

/** What the links of something come to now, in the areas that know of it. */
export interface LinkedFacts {
  readonly activities: readonly {
    readonly id: string;
    readonly name: string;
    readonly purpose: string;
    readonly retention: string;
  }[];
  readonly systems: readonly { readonly id: string; readonly name: string; readonly country: string }[];
  readonly sites: readonly { readonly id: string; readonly name: string }[];
  readonly data: readonly LinkedData[];
  /** Kinds of people that records name. */
  readonly people: readonly string[];
  /** Different people in what was surveyed of the systems; `null` where nothing was. */
  readonly count: number | null;
  readonly recipients: readonly Recipient[];
  /** Third parties that the sites’ pages call. */
  readonly trackers: readonly LinkedTracker[];
  /** Those who work on the same. */
  readonly vendors: readonly { readonly id: string; readonly name: string }[];
  readonly machines: readonly LinkedMachine[];
  /** Of its own accounts; `null` where none is open. */
  readonly reach: LinkedReach | null;
}

export const NO_FACTS: LinkedFacts = {
  ...{
    activities: [],
    systems: [],
    sites: [],
    data: [],
    people: [],
    count: null,
    recipients: [],
    trackers: [],
    vendors: [],
    machines: [],
    reach: null,
  },
};

/** Something that matters when it comes or goes, such as `data health-condition`, with its words. */
export const Mark = z.strictObject({ id: z.string().max(300), words: z.string().max(300) });
export type Mark = z.infer<typeof Mark>;

/** What facts consist of, so that two moments can be told apart: each mark once, in order. */
export function marksOf(facts: LinkedFacts): readonly Mark[] {
  const marks = new Map<string, string>();
  const add = (id: string, words: string) => marks.set(id.slice(0, 300), words.slice(0, 300));
  for (const d of facts.data) add(`data ${d.detector}`, d.name);
  for (const s of facts.systems)
    add(`system ${s.id} ${s.country}`, s.country ? `${s.name} in ${s.country}` : s.name);
  for (const r of facts.recipients)
    add(`recipient ${r.name} ${r.country}`, r.country ? `${r.name} in ${r.country}` : r.name);
  for (const p of facts.people) add(`people ${p.toLowerCase()}`, p);
  for (const v of facts.vendors) add(`vendor ${v.id}`, v.name);
  for (const m of facts.machines) add(`machine ${m.id} ${m.decides ? 'decides' : ''}`, m.name);
  for (const t of facts.trackers) add(`host ${t.host}`, t.host);
  for (const a of facts.reach?.accounts ?? []) add(`account ${a.key}`, a.name);
  for (const d of facts.reach?.data ?? []) add(`reaches ${d}`, d);
  const size = sizeOf(facts.count);
  if (size) add(`size ${size}`, `${size} people`);
  return [...marks].map(([id, words]) => ({ id, words })).toSorted((a, b) => (a.id < b.id ? -1 : 1));
}

const SIZES = [100, 1000, 10_000, 100_000, 1_000_000] as const;

/** By tens: a few more people are no change, ten times as many are. */
function sizeOf(count: number | null): string | undefined {
  if (count === null) return undefined;
  const step = SIZES.findLast((s) => count >= s);
  return step === undefined ? undefined : `at least ${step.toLocaleString('en-GB')}`;
}

/** How what came is told, by what its mark begins with; words of other marks say it themselves. */
const CAME: readonly (readonly [prefix: string, words: (w: string) => string])[] = [
  ['data ', (w) => `a new kind of data: ${w}`],
  ['system ', (w) => `a new system: ${w}`],
  ['recipient ', (w) => `a new recipient: ${w}`],
  ['people ', (w) => `other people: ${w}`],
  ['vendor ', (w) => `a new vendor: ${w}`],
  ['machine ', (w) => `an AI system that was not there, or decides now: ${w}`],
  ['host ', (w) => `a new third party on its pages: ${w}`],
  ['account ', (w) => `a new account of theirs: ${w}`],
  ['reaches ', (w) => `its accounts get to more: ${w}`],
  ['size ', (w) => `more people: ${w}`],
];

/** What came since, in words. What went away asks for no new look. */
export function cameSince(kept: readonly Mark[], now: readonly Mark[]): readonly string[] {
  const before = new Set(kept.map((m) => m.id));
  const biggest = Math.max(-1, ...kept.map(sizeStep));
  return now
    .filter((m) => !before.has(m.id) && (!m.id.startsWith('size ') || sizeStep(m) > biggest))
    .map((m) => CAME.find(([prefix]) => m.id.startsWith(prefix))?.[1](m.words) ?? m.words);
}

function sizeStep({ id }: Mark): number {
  const text = /^size at least ([\d,]+)$/.exec(id)?.[1];
  return text === undefined ? -1 : SIZES.indexOf(Number(text.replaceAll(',', '')) as (typeof SIZES)[number]);
}
