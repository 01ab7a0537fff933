import { dayAfter, lastDayOf, yearEnd, type Day, type Period } from '../clock/period.ts';

/** What a clock begins with, and what happens where that is not known. */
export interface Clock {
  /** `created`, `changed`, or the name of an event. */
  readonly after: string;
  /** It begins at the end of the year in which that lies. */
  readonly yearEnd: boolean;
  /** Where it is not known: another day, or it does not begin at all. */
  readonly unknown: 'created' | 'changed' | 'never begins';
}

/** How long, counted from what; without a period, for good. */
export interface Term {
  readonly period: Period | null;
  readonly clock: Clock;
}

export const THEN = {
  nothing: 'nothing',
  tell: 'tell the owner',
  ask: 'ask the owner, then delete',
  delete: 'delete',
  archive: 'move to the archive',
  anonymise: 'make anonymous',
} as const;
export type Then = keyof typeof THEN;

/**
 * What a rule is about, the most specific first: set on the item itself; found by a lens; a place, by how many steps it is
 * deep; everything.
 */
export type About =
  | { readonly is: 'item' }
  /** With the depth of the place that it is kept to besides, 0 for none. */
  | { readonly is: 'lens'; readonly depth: number }
  | { readonly is: 'place'; readonly depth: number }
  | { readonly is: 'everything' };

export interface WeighedRetention extends Term {
  readonly id: string;
  readonly about: About;
  readonly then: Then;
  /** Where an officer put those that are as specific in order: the smaller decides. */
  readonly order: number | null;
}

/** What the law asks for: kept at least, or at most, so long. */
export interface Bound extends Term {
  readonly id: string;
  readonly kind: 'minimum' | 'maximum';
}

/** What of an item clocks are read from. Days are those where the organisation is. */
export interface ItemDays {
  readonly created: Day | null;
  readonly changed: Day | null;
  readonly events: ReadonlyMap<string, Day>;
  readonly hasPersonalData: boolean;
}

export type LostBecause =
  | 'less specific'
  /** As specific, and it ends later on an item that holds personal data (GDPR Art. 5(1)(e)). */
  | 'ends later'
  /** As specific, and it ends earlier on one that holds none. */
  | 'ends earlier'
  | 'ordered behind'
  | 'says the same';

export interface RetentionVerdict {
  /** Held: a hold covers it. Due: it may go, and a rule or a maximum says so. Kept: it ends later, or never. */
  readonly state: 'held' | 'due' | 'kept';
  /** The last day on which it is kept, holds apart; null for good, or while its clock has not begun. */
  readonly ends: Day | null;
  /** The first day on which it may go. */
  readonly goes: Day | null;
  readonly then: Then;
  /** The rule that decides; undefined where none is about it. */
  readonly by: string | undefined;
  /** When the rule alone would end. */
  readonly ruleEnds: Day | null;
  /** The bound that moved the end, or that ends it where no rule does. */
  readonly movedBy: string | undefined;
  /** A minimum that ends behind a maximum; the minimum counts. */
  readonly conflict: { readonly minimum: string; readonly maximum: string } | undefined;
  readonly holds: readonly string[];
  readonly lost: readonly { readonly rule: string; readonly because: LostBecause }[];
  /** The rule would make it anonymous, and it holds nothing personal. */
  readonly isAnonymous: boolean;
}

/** The last day of a term for an item; null where it never ends, or has not begun. */
export function endOf({ period, clock }: Term, item: ItemDays): Day | null {
  if (period === null) return null;
  const known = startOf(clock.after, item);
  const start = known ?? (clock.unknown === 'never begins' ? null : startOf(clock.unknown, item));
  if (start === null) return null;
  return lastDayOf(clock.yearEnd ? yearEnd(start) : start, period);
}

function startOf(after: string, { created, changed, events }: ItemDays): Day | null {
  if (after === 'created') return created;
  if (after === 'changed') return changed;
  return events.get(after) ?? null;
}

const CLASSES: readonly About['is'][] = ['everything', 'place', 'lens', 'item'];

/** More than 0 where the first is more specific. */
export function compareAbout(a: About, b: About): number {
  const depth = (of: About) => ('depth' in of ? of.depth : 0);
  return CLASSES.indexOf(a.is) - CLASSES.indexOf(b.is) || depth(a) - depth(b);
}

/** Days as they follow each other; one that never comes is behind all. */
function compareEnds(a: Day | null, b: Day | null): number {
  if (a === b) return 0;
  if (a === null) return 1;
  if (b === null) return -1;
  return a < b ? -1 : 1;
}

/**
 * When an item may go, and what decided. A hold that covers it keeps it, whatever else. The latest end of every minimum is
 * the earliest on which it ends, the earliest of every maximum the latest; where they cross, the minimum counts. Within
 * them the most specific rule decides; of those that are as specific, the one that ends first where it holds personal
 * data, else the one that ends last, unless they were put in order.
 *
 * @param rules, bounds and holds: those that are about the item, in any order.
 */
export function retentionVerdict(
  item: ItemDays,
  {
    rules,
    bounds,
    holds,
  }: {
    readonly rules: readonly WeighedRetention[];
    readonly bounds: readonly Bound[];
    readonly holds: readonly string[];
  },
  today: Day,
): RetentionVerdict {
  const { best, lost } = decide(rules, item);
  const minimum = outermost(bounds, item, 'minimum');
  const maximum = outermost(bounds, item, 'maximum');
  const crosses = minimum && maximum && compareEnds(minimum.ends, maximum.ends) > 0;
  const ruleEnds = best ? best.ends : null;
  // One that does nothing once it ends lets nothing go.
  const said = best ? thenFor(best.rule.then, item.hasPersonalData) : 'nothing';
  const wish = best && said !== 'nothing' ? best.ends : null;
  const isForced = maximum !== undefined && compareEnds(wish, maximum.ends) > 0;
  let [ends, movedBy]: [Day | null, string | undefined] = isForced
    ? [maximum.ends, maximum.id]
    : [wish, undefined];
  if (minimum && ends !== null && compareEnds(ends, minimum.ends) < 0)
    [ends, movedBy] = [minimum.ends, minimum.id];
  // A maximum says that it goes, and where no rule says how, its owner is asked.
  const then = ends !== null && isForced && (said === 'nothing' || said === 'tell') ? 'ask' : said;
  const isOver = ends !== null && ends < today && then !== 'nothing';
  return {
    state: holds.length > 0 ? 'held' : isOver ? 'due' : 'kept',
    ends,
    goes: ends === null ? null : dayAfter(ends),
    then,
    by: best?.rule.id,
    ruleEnds,
    movedBy,
    conflict: crosses ? { minimum: minimum.id, maximum: maximum.id } : undefined,
    holds: holds.toSorted(),
    lost,
    isAnonymous: best?.rule.then === 'anonymise' && said === 'nothing',
  };
}

/** What a rule does to an item: there is nothing to make anonymous in one that holds no personal data. */
export function thenFor(then: Then, hasPersonalData: boolean): Then {
  return then === 'anonymise' && !hasPersonalData ? 'nothing' : then;
}

interface Ended {
  readonly rule: WeighedRetention;
  readonly ends: Day | null;
}

function decide(
  rules: readonly WeighedRetention[],
  item: ItemDays,
): { readonly best: Ended | undefined; readonly lost: RetentionVerdict['lost'] } {
  const { hasPersonalData } = item;
  const all = rules
    .map((rule): Ended => ({ rule, ends: endOf(rule, item) }))
    .toSorted(
      (a, b) =>
        compareAbout(b.rule.about, a.rule.about) ||
        compareOrder(a.rule.order, b.rule.order) ||
        (hasPersonalData ? 1 : -1) * compareEnds(a.ends, b.ends) ||
        (a.rule.id < b.rule.id ? -1 : 1),
    );
  const [best, ...others] = all;
  if (!best) return { best, lost: [] };
  return {
    best,
    lost: others.map(({ rule, ends }) => ({
      rule: rule.id,
      because: because(best, { rule, ends }, hasPersonalData),
    })),
  };
}

/** Those that somebody put in order come before all that nobody did. */
function compareOrder(a: number | null, b: number | null): number {
  return a === b ? 0 : (a ?? Infinity) - (b ?? Infinity);
}

function because(best: Ended, other: Ended, hasPersonalData: boolean): LostBecause {
  if (compareAbout(best.rule.about, other.rule.about) > 0) return 'less specific';
  if (compareOrder(best.rule.order, other.rule.order) < 0) return 'ordered behind';
  if (compareEnds(best.ends, other.ends) === 0) return 'says the same';
  return hasPersonalData ? 'ends later' : 'ends earlier';
}

/** Of the minimums the one that ends last, of the maximums the one that ends first. */
function outermost(
  bounds: readonly Bound[],
  item: ItemDays,
  kind: Bound['kind'],
): { readonly id: string; readonly ends: Day | null } | undefined {
  const sign = kind === 'minimum' ? -1 : 1;
  const [first] = bounds
    .filter((b) => b.kind === kind)
    .map((b) => ({ id: b.id, ends: endOf(b, item) }))
    // A maximum whose clock has not begun asks for nothing yet.
    .filter((b) => kind === 'minimum' || b.ends !== null)
    .toSorted((a, b) => sign * compareEnds(a.ends, b.ends) || (a.id < b.id ? -1 : 1));
  return first;
}
