import { needsSafeguard } from '../../holdings/offers.ts';
import { listedWords } from '../../text/listed-words.ts';
import { graveData, harmfulData } from '../linked/gravity.ts';
import type { LinkedFacts, LinkedReach } from '../linked/linked.ts';
import type { VendorContent } from './vendor.ts';

export type Tier = 1 | 2 | 3;

export const TIER_WORDS: Readonly<Record<Tier, string>> = {
  1: 'first tier: all questions, looked at every year',
  2: 'second tier: the main questions, looked at every two years',
  3: 'third tier: the few that everybody is asked, looked at every three years',
};
/** Months after which one is looked at again. */
export const REVIEW_MONTHS: Readonly<Record<Tier, number>> = { 1: 12, 2: 24, 3: 36 };

export interface TierStep {
  readonly words: string;
  readonly value: number;
}

export interface VendorTier {
  readonly tier: Tier;
  readonly score: number;
  readonly steps: readonly TierStep[];
}

/**
 * How closely a vendor is looked at, from what data it gets and what it can reach: each step adds to a sum. From 7 the first
 * tier, from 4 the second. Who is given nothing and reaches nothing is of the third.
 */
export function vendorTier(content: VendorContent, facts: LinkedFacts): VendorTier {
  const steps: TierStep[] = [];
  const add = (value: number, words: string) => value > 0 && steps.push({ words, value });
  const [grave, personal] = [graveData(facts.data), harmfulData(facts.data)].map((all) =>
    all.map((d) => d.name),
  ) as [string[], string[]];
  const gets = content.role !== 'none';
  if (gets) {
    if (grave.length > 0) add(4, `sensitive data: ${listedWords(grave)}`);
    else if (personal.length > 0) add(2, `data that others can do harm with: ${listedWords(personal)}`);
    else
      add(
        1,
        facts.data.length > 0
          ? `personal data: ${listedWords(facts.data.map((d) => d.name))}`
          : 'personal data that nobody named yet',
      );
    const count = facts.count ?? 0;
    if (count >= 10_000) add(2, `${count.toLocaleString('en-GB')} people`);
    else if (count >= 1000) add(1, `${count.toLocaleString('en-GB')} people`);
    if (needsSafeguard(content.country))
      add(
        content.safeguard === 'none' ? 2 : 1,
        `in ${content.country}, ${content.safeguard === 'none' ? 'without a safeguard' : `on ${content.safeguard}`}`,
      );
    const hosts = [...new Set(facts.trackers.map((t) => t.host))];
    if (hosts.length > 0) add(1, `sees visitors of our sites: ${listedWords(hosts)}`);
    if (content.subprocessors.length > 0)
      add(
        1,
        `hands on to ${content.subprocessors.length} ${content.subprocessors.length === 1 ? 'subprocessor' : 'subprocessors'}`,
      );
  }
  const said = content.access === 'administers' ? 3 : content.access === 'hosts' ? 2 : 0;
  const seen = reachedScore(facts.reach);
  if (facts.reach && seen > said) add(seen, reachWords(facts.reach));
  else add(said, said === 3 ? 'gets into our systems' : 'keeps data for us');
  if (content.vital) add(1, 'we stand still without it');
  const score = steps.reduce((n, s) => n + s.value, 0);
  return { score, steps, tier: score >= 7 ? 1 : score >= 4 ? 2 : 3 };
}

/** By what accounts of theirs get to, whatever somebody said of it: sensitive data, people, anything. */
function reachedScore(reach: LinkedReach | null): number {
  if (!reach || reach.places === 0) return 0;
  return reach.data.length > 0 ? 3 : reach.people > 0 ? 2 : 1;
}

/** `2 accounts of theirs get to 14 places, with 310 people and Passport number` */
export function reachWords({ accountCount, places, people, data }: LinkedReach): string {
  const n = (value: number) => value.toLocaleString('en-GB');
  const lies = [
    people > 0 && (people === 1 ? '1 person' : `${n(people)} people`),
    data.length > 0 && listedWords(data),
  ].filter(Boolean);
  return `${accountCount === 1 ? '1 account of theirs gets' : `${n(accountCount)} accounts of theirs get`} to ${places === 1 ? '1 place' : `${n(places)} places`}${lies.length > 0 ? `, with ${lies.join(' and ')}` : ''}`;
}
