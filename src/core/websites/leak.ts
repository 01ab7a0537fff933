import type { Purpose } from './purpose.ts';
import type { Sighting } from './tracker.ts';
import { VISITOR_WORDS, type Visitor } from './visitor.ts';

/** What one visitor's sighting of a tracker means. */
export type Verdict =
  | { readonly verdict: 'not seen' }
  | { readonly verdict: 'allowed'; readonly why: string }
  /** Nobody has said what it is for, so it cannot be called permitted. */
  | { readonly verdict: 'unsorted'; readonly why: string }
  | { readonly verdict: 'leak'; readonly why: string; readonly law: string };

const NO_CONSENT =
  'Directive 2002/58/EC, art. 5(3): storing or reading anything on a visitor’s device needs consent first, unless it is strictly necessary';

/** What a sighting means for a tracker of this purpose (`null`: nobody decided, and none could be proposed). */
export function judge(purpose: Purpose | null, visitor: Visitor, seen: boolean): Verdict {
  if (!seen) return { verdict: 'not seen' };
  if (purpose?.essential) return { verdict: 'allowed', why: 'Essential runs without consent.' };
  if (visitor === 'accepted') {
    return purpose
      ? { verdict: 'allowed', why: `The visitor allowed ${purpose.name}.` }
      : { verdict: 'unsorted', why: 'The visitor allowed every purpose, but this one has none yet.' };
  }
  if (!purpose)
    return {
      verdict: 'unsorted',
      why: `Seen ${VISITOR_WORDS[visitor].toLowerCase()}. Only Essential may be: say what it is for.`,
    };
  const had = visitor === 'before' ? 'had not been asked yet' : `had refused ${purpose.name}`;
  return { verdict: 'leak', why: `It is ${purpose.name}, and the visitor ${had}.`, law: NO_CONSENT };
}

/** The verdicts of a tracker for each visitor a sweep came as. */
export function judgeAll(
  purpose: Purpose | null,
  sightings: readonly Sighting[],
  visitors: readonly Visitor[],
): Readonly<Partial<Record<Visitor, Verdict>>> {
  return Object.fromEntries(
    visitors.map((v) => [
      v,
      judge(
        purpose,
        v,
        sightings.some((s) => s.visitor === v),
      ),
    ]),
  );
}

export function leakingVisitors(purpose: Purpose | null, sightings: readonly Sighting[]): readonly Visitor[] {
  return sightings.map((s) => s.visitor).filter((v) => judge(purpose, v, true).verdict === 'leak');
}
