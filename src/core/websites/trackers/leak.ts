import type { Purpose } from '../notice/purpose.ts';
import { mayRefuse, regimeOf, startsOn, type RegimeRow } from '../notice/regime.ts';
import type { Region } from '../notice/region.ts';
import type { Sighting } from './tracker.ts';
import type { Visitor } from './visitor.ts';

/** What one visitor's sighting of a tracker means. */
export type Verdict =
  | { readonly verdict: 'not seen' }
  | { readonly verdict: 'allowed'; readonly why: string }
  /** Tried without permission, and this browser refused it. */
  | { readonly verdict: 'attempt'; readonly why: string }
  /** Nobody has said what it is for, and it may be here whatever that is. */
  | { readonly verdict: 'unsorted'; readonly why: string }
  /** Nobody has said what it is for, and only what is essential may be here: a leak, unless it is that. */
  | { readonly verdict: 'presumed leak'; readonly why: string; readonly law: string }
  | { readonly verdict: 'leak'; readonly why: string; readonly law: string };

/** Under what a sweep is judged. */
export interface Terms {
  readonly region: Region;
  /** The regime of the region as the organisation has it; the shipped one where that is not said. */
  readonly regime?: RegimeRow | undefined;
  /** Purposes that the visitor with a choice of their own allowed. */
  readonly chosen: readonly string[];
}

/** What the judge looks at in a sighting. */
export type Evidence = Pick<Sighting, 'visitor'> & Partial<Pick<Sighting, 'refused'>>;

/**
 * Whether the law of the region lets a purpose (`null`: not sorted) run for this visitor, and why. An unsorted one is
 * permitted only where nothing has to be asked, or everything was allowed.
 */
export function permission(
  purpose: Purpose | null,
  visitor: Visitor,
  terms: Terms,
): { readonly permitted: boolean; readonly why: string; readonly law: string } {
  const row = terms.regime ?? regimeOf(terms.region);
  const { law } = row;
  const it = purpose ? `It is ${purpose.name}` : 'Nobody has said what it is for';
  const yes = (why: string) => ({ permitted: true, why, law });
  const no = (why: string) => ({ permitted: false, why: `${it}, and ${why}.`, law });
  // What nobody has sorted is held to what any purpose would be.
  const any = purpose ?? UNSORTED;
  const waits = !startsOn(row, any);
  if (purpose?.essential) return yes('Essential runs without consent.');
  if (!mayRefuse(row, any))
    return yes(
      row.regime === 'nothing'
        ? 'The law here asks nothing.'
        : 'The law here asks only that visitors are informed.',
    );
  const notAsked =
    row.regime === 'ask first'
      ? 'the visitor had not been asked yet'
      : 'it is to wait for the visitor, as the organisation has it here';
  switch (visitor) {
    case 'accepted':
      return yes(purpose ? `The visitor allowed ${purpose.name}.` : 'The visitor allowed every purpose.');
    case 'refused':
      return no(purpose ? `the visitor had refused ${purpose.name}` : 'the visitor had refused');
    case 'chosen':
      return purpose && terms.chosen.includes(purpose.code)
        ? yes(`The visitor chose ${purpose.name}.`)
        : no(
            purpose
              ? `the visitor had not chosen ${purpose.name}`
              : 'the visitor chose some purposes, none of them known to be its own',
          );
    case 'before':
      return waits ? no(notAsked) : yes('The law here lets it run until the visitor refuses.');
    case 'gpc':
      if (waits) return no(notAsked);
      if (!row.signal) return yes('The law here lets it run until the visitor refuses on the site.');
      return purpose && !purpose.shares
        ? yes('The signal refuses selling and sharing; this purpose does neither.')
        : no('the signal refuses selling and sharing');
  }
}

const UNSORTED: Purpose = { code: '', name: '', essential: false, shares: true };

/** Below this share of the likelihood, a tracker without a purpose is taken not to be essential. */
export const HARDLY_ESSENTIAL = 0.15;

/**
 * What a sighting means. What has no purpose is a presumed leak where only the essential may run, and a leak where
 * `essential`, the share of the likelihood that it is that, in [0, 1], is very small: whoever runs it has to show that it is.
 */
export function judge(
  purpose: Purpose | null,
  seen: Evidence | undefined,
  terms: Terms,
  essential = 1,
): Verdict {
  if (!seen) return { verdict: 'not seen' };
  const { permitted, why, law } = permission(purpose, seen.visitor, terms);
  if (permitted && purpose) return { verdict: 'allowed', why };
  if (!permitted && seen.refused)
    return { verdict: 'attempt', why: `${why} The browser refused it: ${seen.refused}.` };
  if (!purpose && !permitted && essential < HARDLY_ESSENTIAL)
    return {
      verdict: 'leak',
      why: `${why} That it is essential is unlikely: ${Math.round(essential * 100)}%.`,
      law,
    };
  if (!purpose && !permitted)
    return {
      verdict: 'presumed leak',
      why: `${why} It leaks unless it is essential, which is ${Math.round(essential * 100)}% likely: say what it is for.`,
      law,
    };
  if (!purpose) return { verdict: 'unsorted', why: `${why} It has no purpose yet.` };
  return permitted ? { verdict: 'allowed', why } : { verdict: 'leak', why, law };
}

/** The verdicts of a tracker for each visitor a sweep came as. */
export function judgeAll(
  purpose: Purpose | null,
  sightings: readonly Evidence[],
  visitors: readonly Visitor[],
  terms: Terms,
  essential = 1,
): Readonly<Partial<Record<Visitor, Verdict>>> {
  return Object.fromEntries(
    visitors.map((v) => [
      v,
      judge(
        purpose,
        sightings.find((s) => s.visitor === v),
        terms,
        essential,
      ),
    ]),
  );
}

export function leakingVisitors(
  purpose: Purpose | null,
  sightings: readonly Evidence[],
  terms: Terms,
  essential = 1,
): readonly Visitor[] {
  return sightings
    .filter((s) => judge(purpose, s, terms, essential).verdict === 'leak')
    .map((s) => s.visitor);
}
