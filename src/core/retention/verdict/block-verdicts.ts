import type { BlockIndex } from '../../holdings/offers.ts';
import { Bitmap } from '../../lens/bitmap.ts';
import { dayNumber } from '../../lens/fact-index.ts';
import { lastDayOf, yearEnd, type Day } from '../clock/period.ts';
import { ZoneDays } from '../clock/zone-days.ts';
import { deepestMatch, placeMatcher, stepsOf } from '../scope/place-pattern.ts';
import { compareAbout, THEN, thenFor, type About, type Term, type Then } from './retention-verdict.ts';
import { aboutOf, type ResolvedScope, type Weighed } from './weighed.ts';

/** A day that never comes, behind all others. */
export const NEVER = 0x7fff_ffff;
export const THENS = Object.keys(THEN) as readonly Then[];

/** The verdicts on all items of a block, in its columns: the same that `itemVerdict` says of each. */
export interface BlockVerdicts {
  /** The last day on which it is kept, holds apart; days since 1970, `NEVER` for good. */
  readonly ends: Int32Array;
  /** When the rule alone would end. */
  readonly ruleEnds: Int32Array;
  /** What decides: first all rules, then all exceptions; -1 for none. */
  readonly by: Int32Array;
  /** Of `THENS`. */
  readonly then: Uint8Array;
  /** Of the bounds, the one that moved the end; -1 for none. */
  readonly movedBy: Int32Array;
  /** A minimum ends behind a maximum. */
  readonly crosses: Uint8Array;
  /** By hold: the items of the block that it covers. */
  readonly held: readonly Bitmap[];
  /** By rule: the items of the block that it is about. */
  readonly about: readonly Bitmap[];
  /** By bound: the same. */
  readonly bounded: readonly Bitmap[];
  /** Rules that are most specific on an item and stand at the same place, where those are several that end on other days. */
  rivals(at: number): readonly number[];
}

/** What is weighed, made ready for many blocks. */
export class BlockJudge {
  readonly #zone: ZoneDays;
  readonly #terms = new Map<Term, TermEnds>();
  readonly #exceptionsOf = new Map<number, number[]>();

  constructor(
    readonly weighed: Weighed,
    /** On which lenses are asked. */
    readonly today: Day,
  ) {
    this.#zone = ZoneDays.in(weighed.zone);
    for (const [i, { items }] of weighed.exceptions.entries())
      items.forEach((id) => {
        const known = this.#exceptionsOf.get(id);
        if (known) known.push(i);
        else this.#exceptionsOf.set(id, [i]);
      });
  }

  verdicts(index: BlockIndex): BlockVerdicts {
    const { rules, bounds, holds, exceptions } = this.weighed;
    const { block } = index;
    const n = block.items.length;
    const base = index.number * BLOCK;
    const { created, changed, personal } = this.#facts(index);
    const events = this.#events(index);
    const groups = new Groups(n);
    const weighed: Entry[] = [];
    const add = (entry: Entry, items: Bitmap) => {
      weighed.push(entry);
      for (const at of index.positions(items)) groups.put(at, weighed.length - 1);
    };
    const about = rules.map((rule, i) => {
      const byDepth = this.#scopeSets(index, rule.scope);
      for (const [depth, items] of byDepth)
        add({ is: 'rule', at: i, about: aboutOf(rule.scope, depth) }, items);
      return Bitmap.union(byDepth.map(([, items]) => items));
    });
    const bounded = bounds.map((bound, i) => {
      const items = Bitmap.union(this.#scopeSets(index, bound.scope).map(([, of]) => of));
      add({ is: 'bound', at: i }, items);
      return items;
    });
    const held = holds.map((hold) => {
      const items = Bitmap.union(this.#scopeSets(index, hold.scope).map(([, of]) => of));
      const [from, until] = [dayOrNull(hold.from), dayOrNull(hold.until)];
      if (from === null && until === null) return items;
      return keptWhere(items, index, (at) => {
        const day = changed[at] as number;
        return day === UNKNOWN || ((from === null || day >= from) && (until === null || day <= until));
      });
    });
    const verdicts = {
      ends: new Int32Array(n).fill(NEVER),
      ruleEnds: new Int32Array(n).fill(NEVER),
      by: new Int32Array(n).fill(-1),
      then: new Uint8Array(n).fill(THENS.indexOf('nothing')),
      movedBy: new Int32Array(n).fill(-1),
      crosses: new Uint8Array(n),
    };
    const plans = groups.all().map((entries) => this.#planOf(entries.map((e) => weighed[e] as Entry)));
    const startOf = (after: string, at: number): number => {
      if (after === 'created') return created[at] as number;
      if (after === 'changed') return changed[at] as number;
      return events.get(after)?.[at] ?? UNKNOWN;
    };
    const endOf = (term: Term, at: number): number => {
      if (term.period === null) return NEVER;
      const { after, unknown } = term.clock;
      let start = startOf(after, at);
      if (start === UNKNOWN && unknown !== 'never begins') start = startOf(unknown, at);
      return start === UNKNOWN ? NEVER : this.#end(term, start);
    };
    for (let at = 0; at < n; at++) {
      const own = this.#exceptionsOf.get(base + (block.items[at] as number));
      const plan = plans[groups.of(at)] as Plan;
      if (own === undefined && plan.first.length === 0 && plan.bounds.length === 0) continue;
      // The one that ends first where it holds personal data, else the one that ends last; of those that end alike, the first by name.
      const sign = personal[at] === 1 ? 1 : -1;
      let [by, ruleEnds] = [-1, NEVER];
      const weigh = (which: number, ends: number) => {
        if (by < 0 || sign * compare(ends, ruleEnds) < 0) [by, ruleEnds] = [which, ends];
      };
      if (own) {
        for (const e of this.#firstOf(own)) weigh(rules.length + e, endOf(exceptions[e] as Term, at));
      } else for (const r of plan.first) weigh(r, endOf(rules[r] as Term, at));
      const deciding = by < 0 ? undefined : by < rules.length ? rules[by] : exceptions[by - rules.length];
      const said = deciding ? thenFor(deciding.then, personal[at] === 1) : 'nothing';
      const wish = said === 'nothing' ? NEVER : ruleEnds;
      let [minimum, minimumEnds, maximum, maximumEnds] = [-1, -Infinity, -1, NEVER];
      for (const b of plan.bounds) {
        const bound = bounds[b] as (typeof bounds)[number];
        const end = endOf(bound, at);
        if (bound.kind === 'minimum') {
          if (end > minimumEnds) [minimum, minimumEnds] = [b, end];
        } else if (end < maximumEnds) [maximum, maximumEnds] = [b, end];
      }
      const isForced = maximum >= 0 && wish > maximumEnds;
      let [ends, movedBy] = isForced ? [maximumEnds, maximum] : [wish, -1];
      if (minimum >= 0 && ends !== NEVER && ends < minimumEnds) [ends, movedBy] = [minimumEnds, minimum];
      const then = ends !== NEVER && isForced && (said === 'nothing' || said === 'tell') ? 'ask' : said;
      verdicts.ends[at] = ends;
      verdicts.ruleEnds[at] = ruleEnds;
      verdicts.by[at] = by;
      verdicts.then[at] = THENS.indexOf(then);
      verdicts.movedBy[at] = movedBy;
      verdicts.crosses[at] = minimum >= 0 && maximum >= 0 && minimumEnds > maximumEnds ? 1 : 0;
    }
    const rivals = (at: number) => {
      const { first } = plans[groups.of(at)] as Plan;
      if (first.length < 2 || this.#exceptionsOf.has(base + (block.items[at] as number))) return NONE;
      const ends = first.map((r) => endOf(rules[r] as Term, at));
      return ends.every((e) => e === ends[0]) ? NONE : first;
    };
    return { ...verdicts, held, about, bounded, rivals };
  }

  /** By depth of the place, the items that a scope holds by none deeper. */
  #scopeSets(index: BlockIndex, { lens, places }: ResolvedScope): readonly (readonly [number, Bitmap])[] {
    const items = index.lensSet(lens, this.today);
    if (places.length === 0) return items.size === 0 ? [] : [[0, items]];
    const matchers = places.map(placeMatcher);
    const byDepth = new Map<number, Bitmap[]>();
    for (const [place, of] of index.sets('place').byValue) {
      const depth = deepestMatch(matchers, stepsOfPlace(place));
      if (depth === undefined) continue;
      const known = byDepth.get(depth);
      if (known) known.push(of);
      else byDepth.set(depth, [of]);
    }
    return [...byDepth]
      .map(([depth, sets]) => [depth, Bitmap.union(sets).and(items)] as const)
      .filter(([, set]) => set.size > 0);
  }

  #planOf(entries: readonly Entry[]): Plan {
    const { rules, bounds } = this.weighed;
    const about = entries
      .flatMap((e) => (e.is === 'rule' ? [e] : []))
      .toSorted(
        (a, b) =>
          compareAbout(b.about, a.about) ||
          compareOrder(rules[a.at]?.order ?? null, rules[b.at]?.order ?? null) ||
          byId(rules[a.at], rules[b.at]),
      );
    const [best] = about;
    const isAlike = (e: (typeof about)[number]) =>
      best !== undefined &&
      compareAbout(e.about, best.about) === 0 &&
      (rules[e.at]?.order ?? null) === (rules[best.at]?.order ?? null);
    return {
      first: about.filter(isAlike).map((e) => e.at),
      bounds: entries
        .flatMap((e) => (e.is === 'bound' ? [e.at] : []))
        .toSorted((a, b) => byId(bounds[a], bounds[b])),
    };
  }

  /** Of exceptions on one item, those that stand at the first place, by id. */
  #firstOf(own: readonly number[]): readonly number[] {
    const { exceptions } = this.weighed;
    const sorted = own.toSorted(
      (a, b) =>
        compareOrder(exceptions[a]?.order ?? null, exceptions[b]?.order ?? null) ||
        byId(exceptions[a], exceptions[b]),
    );
    const first = exceptions[sorted[0] ?? -1]?.order ?? null;
    return sorted.filter((e) => (exceptions[e]?.order ?? null) === first);
  }

  #facts(index: BlockIndex): BlockFacts {
    const known = factsOf.get(index);
    if (known?.zone === this.weighed.zone) return known;
    const { created, changed } = index.block;
    const facts = {
      zone: this.weighed.zone,
      created: this.#days(created),
      changed: this.#days(changed),
      personal: personalIn(index),
    };
    factsOf.set(index, facts);
    return facts;
  }

  /** Days where the organisation is, of moments. */
  #days(column: Float64Array): Int32Array {
    return Int32Array.from(column, (at) => (Number.isNaN(at) ? UNKNOWN : this.#zone.dayOf(at)));
  }

  #events(index: BlockIndex): ReadonlyMap<string, Int32Array> {
    const [from, to] = [index.number * BLOCK, (index.number + 1) * BLOCK];
    return new Map(
      this.weighed.events.map(({ id, items, days }) => {
        const column = new Int32Array(index.block.items.length).fill(UNKNOWN);
        for (let i = firstFrom(items, from); i < items.length && (items[i] as number) < to; i++) {
          const at = index.at((items[i] as number) - from);
          if (at >= 0) column[at] = days[i] as number;
        }
        return [id, column];
      }),
    );
  }

  #end(term: Term, start: number): number {
    let ends = this.#terms.get(term);
    if (!ends) this.#terms.set(term, (ends = termEnds(term)));
    return ends.from(start);
  }
}

/** The last days of a term, by the day on which its clock begins; each is reckoned once. */
class TermEnds {
  /** Of the days from 1900 to 2079, in which nearly all lie; 0 for one that was not asked for. */
  readonly #usual = new Int32Array(USUAL_DAYS);
  readonly #others = new Map<number, number>();

  constructor(
    readonly period: NonNullable<Term['period']>,
    readonly isYearEnd: boolean,
  ) {}

  from(start: number): number {
    const at = start + DAYS_SINCE_1900;
    if (at < 0 || at >= USUAL_DAYS) {
      const known = this.#others.get(start) ?? this.#reckon(start);
      this.#others.set(start, known);
      return known;
    }
    // Kept with one more, as 1 January 1970 is 0 itself.
    const known = this.#usual[at] as number;
    if (known !== 0) return known > 0 ? known - 1 : known;
    const end = this.#reckon(start);
    this.#usual[at] = end >= 0 ? end + 1 : end;
    return end;
  }

  #reckon(start: number): number {
    const day = new Date(start * 86_400_000).toISOString().slice(0, 10);
    return dayNumber(lastDayOf(this.isYearEnd ? yearEnd(day) : day, this.period));
  }
}

const USUAL_DAYS = 65_536;
const DAYS_SINCE_1900 = 25_567;
/** Of so many terms, what was reckoned is kept for whoever asks next. */
const TERMS_KEPT = 256;
const reckoned = new Map<string, TermEnds>();

function termEnds({ period, clock }: Term): TermEnds {
  if (period === null) throw new RangeError('A term for good does not end.');
  const key = `${period.count} ${period.unit} ${clock.yearEnd}`;
  const ends = reckoned.get(key) ?? new TermEnds(period, clock.yearEnd);
  if (reckoned.size >= TERMS_KEPT && !reckoned.has(key))
    reckoned.delete(reckoned.keys().next().value as string);
  reckoned.set(key, ends);
  return ends;
}

/** What of a block is the same whatever is weighed. */
interface BlockFacts {
  readonly zone: string;
  readonly created: Int32Array;
  readonly changed: Int32Array;
  readonly personal: Uint8Array;
}

const factsOf = new WeakMap<BlockIndex, BlockFacts>();

/** Places come back in every scope and every block. */
const PLACES_KEPT = 200_000;
const steps = new Map<string, readonly string[]>();

function stepsOfPlace(place: string): readonly string[] {
  let of = steps.get(place);
  if (!of) {
    if (steps.size >= PLACES_KEPT) steps.clear();
    steps.set(place, (of = stepsOf(place)));
  }
  return of;
}

const BLOCK = 0x1_0000;
const UNKNOWN = -0x8000_0000;
const NONE: readonly number[] = [];

type Entry =
  | { readonly is: 'rule'; readonly at: number; readonly about: About }
  | { readonly is: 'bound'; readonly at: number };

/** What is weighed for the items that the same rules and bounds are about. */
interface Plan {
  /** Rules that are most specific and stand at the same place, by id. */
  readonly first: readonly number[];
  /** By id. */
  readonly bounds: readonly number[];
}

/** Items by the entries that they are in: few groups for many items. */
class Groups {
  readonly #of: Uint32Array;
  readonly #entries: (readonly number[])[] = [[]];
  readonly #next = new Map<string, number>();

  constructor(n: number) {
    this.#of = new Uint32Array(n);
  }

  /** Puts an item into one more entry; entries come in rising order. */
  put(at: number, entry: number): void {
    const from = this.#of[at] as number;
    const key = `${from} ${entry}`;
    let to = this.#next.get(key);
    if (to === undefined) {
      to = this.#entries.push([...(this.#entries[from] as readonly number[]), entry]) - 1;
      this.#next.set(key, to);
    }
    this.#of[at] = to;
  }

  of(at: number): number {
    return this.#of[at] as number;
  }

  all(): readonly (readonly number[])[] {
    return this.#entries;
  }
}

function personalIn(index: BlockIndex): Uint8Array {
  const { block } = index;
  const personal = Uint8Array.from(block.people, (people) => (people > 0 ? 1 : 0));
  for (const { detector, items, matches } of block.found) {
    const kind = block.words.documents.indexOf(detector);
    for (let i = 0; i < items.length; i++) {
      const at = index.at(items[i] as number);
      if (at >= 0 && (matches[i] as number) > 0 && (kind < 0 || block.document[at] !== kind))
        personal[at] = 1;
    }
  }
  return personal;
}

function keptWhere(set: Bitmap, index: BlockIndex, keeps: (at: number) => boolean): Bitmap {
  const kept: number[] = [];
  set.forEach((item) => {
    if (keeps(index.at(item))) kept.push(item);
  });
  return Bitmap.ofSorted(Uint32Array.from(kept));
}

function dayOrNull(day: Day | null): number | null {
  return day === null ? null : dayNumber(day);
}

function compare(a: number, b: number): number {
  return a - b;
}

function compareOrder(a: number | null, b: number | null): number {
  return a === b ? 0 : (a ?? Infinity) - (b ?? Infinity);
}

function byId(a: { readonly id: string } | undefined, b: { readonly id: string } | undefined): number {
  return (a?.id ?? '') < (b?.id ?? '') ? -1 : 1;
}

/** Where the numbers of a rising list begin that are at least so large. */
function firstFrom(items: Uint32Array, least: number): number {
  let [low, high] = [0, items.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((items[middle] as number) < least) low = middle + 1;
    else high = middle;
  }
  return low;
}
