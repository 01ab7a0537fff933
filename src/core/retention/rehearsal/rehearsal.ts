import {
  itemFigures,
  placesBelow,
  type BlockIndex,
  type ItemFigures,
  type PlaceCount,
} from '../../holdings/offers.ts';
import { Bitmap } from '../../lens/bitmap.ts';
import { dayNumber } from '../../lens/fact-index.ts';
import type { Day } from '../clock/period.ts';
import { BlockJudge, NEVER, THENS, type BlockVerdicts } from '../verdict/block-verdicts.ts';
import type { Weighed } from '../verdict/weighed.ts';

/** A block of items, those of them that are looked at, and the verdicts on it. */
export interface JudgedBlock {
  readonly index: BlockIndex;
  readonly set: Bitmap;
  readonly verdicts: BlockVerdicts;
}

/** How far rules reach in one source. */
export interface SourceCoverage {
  readonly source: string;
  readonly items: number;
  readonly ruled: number;
  readonly byLaw: number;
  /** Rules that decide of any of its items, with how many; the most first. */
  readonly rules: readonly { readonly id: string; readonly items: number }[];
}

/** What one rule comes to among the others, in items. */
export interface RuleTotals {
  readonly id: string;
  readonly about: number;
  /** It decides. */
  readonly decides: number;
  /** Of those: may go today, no hold keeps them, and something follows. */
  readonly due: number;
  /** Would be due if no hold covered them. */
  readonly held: number;
  /** Their clock runs. */
  readonly running: number;
  /** Never end, or their clock has not begun. */
  readonly forGood: number;
  /** Of those it decides, how many a law moved to another day. */
  readonly moved: number;
}

export interface HoldTotals {
  readonly id: string;
  readonly covers: number;
  /** Would go by now but for it, or another hold. */
  readonly keeps: number;
}

export interface BoundTotals {
  readonly id: string;
  readonly about: number;
  /** Has end on another day than rules say, or at all. */
  readonly moves: number;
}

/** What is looked at as a whole: how much of it a rule, or only a law, says something of. */
export interface Coverage {
  readonly items: number;
  readonly ruled: number;
  /** By no rule: a law alone has them end. */
  readonly byLaw: number;
  readonly due: number;
  readonly held: number;
  /** Its minimum is behind its maximum. */
  readonly crossed: number;
}

export interface RetentionTotals {
  readonly rules: readonly RuleTotals[];
  readonly exceptions: number;
  readonly holds: readonly HoldTotals[];
  readonly bounds: readonly BoundTotals[];
  readonly coverage: Coverage;
}

/** A month in which clocks end: `2026-11`, and how many of the items are due, held, or go later. */
export interface MonthCount {
  readonly month: string;
  readonly due: number;
  readonly held: number;
  readonly later: number;
}

/** Rules that are as specific as one on the same items, and would have them end on other days. */
export interface Rival {
  readonly rule: string;
  readonly items: number;
  /** Ids of the first. */
  readonly examples: readonly number[];
}

/** What a rule would do, opened. */
export interface RuleOutlook {
  readonly totals: RuleTotals;
  /** The earliest first. */
  readonly months: readonly MonthCount[];
  /** Of what is due. */
  readonly figures: ItemFigures;
  readonly places: readonly PlaceCount[];
  /** By which rule or exception others are decided that it is about too. */
  readonly beatenBy: readonly { readonly rule: string; readonly items: number }[];
  readonly movedBy: readonly {
    readonly bound: string;
    readonly items: number;
    readonly longer: number;
    readonly examples: readonly number[];
  }[];
  readonly heldBy: readonly { readonly hold: string; readonly items: number }[];
  readonly rivals: readonly Rival[];
  readonly due: Bitmap;
  /** What will be due tomorrow if nothing changes but the day. */
  readonly dueNext: Bitmap;
}

const EXAMPLES = 5;

export class Rehearsal {
  readonly #today: number;

  constructor(
    readonly blocks: readonly JudgedBlock[],
    readonly weighed: Weighed,
    today: Day,
  ) {
    this.#today = dayNumber(today);
  }

  /** Judges blocks one by one. */
  static of(
    blocks: readonly { readonly index: BlockIndex; readonly set: Bitmap }[],
    weighed: Weighed,
    today: Day,
  ): Rehearsal {
    const judge = new BlockJudge(weighed, today);
    return new Rehearsal(
      blocks.map((b) => ({ ...b, verdicts: judge.verdicts(b.index) })),
      weighed,
      today,
    );
  }

  totals(): RetentionTotals {
    const { rules, holds, bounds } = this.weighed;
    const totals = rules.map(({ id }) => ({ id, ...NOTHING }));
    const kept = holds.map(({ id }) => ({ id, covers: 0, keeps: 0 }));
    const limits = bounds.map(({ id }) => ({ id, about: 0, moves: 0 }));
    const coverage = { items: 0, ruled: 0, byLaw: 0, due: 0, held: 0, crossed: 0 };
    let exceptions = 0;
    for (const { index, set, verdicts } of this.blocks) {
      const heldAny = Bitmap.union(verdicts.held);
      for (const [r, about] of verdicts.about.entries()) (totals[r] as Counting).about += about.countAnd(set);
      for (const [h, covered] of verdicts.held.entries())
        (kept[h] as { covers: number }).covers += covered.countAnd(set);
      for (const [b, about] of verdicts.bounded.entries())
        (limits[b] as { about: number }).about += about.countAnd(set);
      coverage.items += set.size;
      set.forEach((item) => {
        const at = index.at(item);
        const by = verdicts.by[at] as number;
        const ends = verdicts.ends[at] as number;
        const isOver = this.#isOver(verdicts, at);
        const isHeld = isOver && heldAny.has(item);
        if (by >= 0) coverage.ruled++;
        else if (ends !== NEVER) coverage.byLaw++;
        if (isHeld) coverage.held++;
        else if (isOver) coverage.due++;
        coverage.crossed += verdicts.crosses[at] as number;
        if (isHeld)
          for (const [h, covered] of verdicts.held.entries())
            if (covered.has(item)) (kept[h] as { keeps: number }).keeps++;
        if (by >= rules.length) exceptions++;
        const limit = limits[verdicts.movedBy[at] as number];
        if (limit) limit.moves++;
        const of = totals[by];
        if (of) count(of, isOver, isHeld, ends, verdicts.movedBy[at] as number);
      });
    }
    return { rules: totals, exceptions, holds: kept, bounds: limits, coverage };
  }

  /** One rule, by its id. Throws a RangeError for one that is not weighed. */
  outlook(id: string, above: string): RuleOutlook {
    const { rules, bounds, holds, exceptions } = this.weighed;
    const mine = rules.findIndex((r) => r.id === id);
    if (mine < 0) throw new RangeError(`Rule ${id} is not weighed.`);
    const totals: Counting = { id, ...NOTHING };
    const months = new Map<string, { due: number; held: number; later: number }>();
    const beaten = new Map<number, number>();
    const moved = new Map<number, { items: number; examples: number[] }>();
    const longer = new Map<number, number>();
    const heldBy = new Map<number, number>();
    const rivals = new Map<number, { items: number; examples: number[] }>();
    const due: [number, Bitmap][] = [];
    const next: [number, Bitmap][] = [];
    const parts = [];
    for (const { index, set, verdicts } of this.blocks) {
      const heldAny = Bitmap.union(verdicts.held);
      const about = (verdicts.about[mine] as Bitmap).and(set);
      totals.about += about.size;
      const [dueHere, nextHere]: [number[], number[]] = [[], []];
      about.forEach((item) => {
        const at = index.at(item);
        const number = index.number * BLOCK + item;
        const by = verdicts.by[at] as number;
        const alike = verdicts.rivals(at);
        if (alike.includes(mine)) for (const rival of alike) if (rival !== mine) add(rivals, rival, number);
        if (by !== mine) {
          beaten.set(by, (beaten.get(by) ?? 0) + 1);
          return;
        }
        const ends = verdicts.ends[at] as number;
        const isOver = this.#isOver(verdicts, at);
        const isHeld = heldAny.has(item);
        const bound = verdicts.movedBy[at] as number;
        count(totals, isOver, isOver && isHeld, ends, bound);
        if (bound >= 0) {
          add(moved, bound, number);
          if (ends > (verdicts.ruleEnds[at] as number)) longer.set(bound, (longer.get(bound) ?? 0) + 1);
        }
        if (isOver && isHeld)
          for (const [h, covered] of verdicts.held.entries())
            if (covered.has(item)) heldBy.set(h, (heldBy.get(h) ?? 0) + 1);
        if (isOver && !isHeld) dueHere.push(item);
        // A hold, and what follows, are as they are today.
        if (!isHeld && this.#isOver(verdicts, at, 1)) nextHere.push(item);
        if (ends === NEVER || THENS[verdicts.then[at] as number] === 'nothing') return;
        const month = monthOf(ends + 1);
        const tally = months.get(month) ?? { due: 0, held: 0, later: 0 };
        months.set(month, tally);
        tally[isOver ? (isHeld ? 'held' : 'due') : 'later']++;
      });
      const dueSet = Bitmap.ofSorted(Uint32Array.from(dueHere));
      parts.push({ index, set: dueSet });
      due.push([index.number, dueSet]);
      next.push([index.number, Bitmap.ofSorted(Uint32Array.from(nextHere))]);
    }
    const selection = { parts, size: totals.due };
    const deciding = (by: number) =>
      (by < 0 ? '' : by < rules.length ? rules[by]?.id : (exceptions[by - rules.length]?.id ?? '')) ?? '';
    return {
      totals,
      months: [...months].map(([month, n]) => ({ month, ...n })).sort((a, b) => (a.month < b.month ? -1 : 1)),
      figures: itemFigures(selection),
      places: placesBelow(selection, above),
      beatenBy: most(beaten).map(([by, items]) => ({ rule: deciding(by), items })),
      movedBy: [...moved].map(([b, of]) => ({
        bound: bounds[b]?.id ?? '',
        longer: longer.get(b) ?? 0,
        ...of,
      })),
      heldBy: most(heldBy).map(([h, items]) => ({ hold: holds[h]?.id ?? '', items })),
      rivals: [...rivals].map(([r, of]) => ({ rule: rules[r]?.id ?? '', ...of })),
      due: Bitmap.ofParts(due),
      dueNext: Bitmap.ofParts(next),
    };
  }

  /** Of a rule, or of what rules leave to the law where `id` is '': what is due, the longest overdue first. */
  firstToGo(
    id: string,
    after: readonly [ends: number, item: number] | undefined,
    size: number,
  ): readonly { readonly item: number; readonly ends: number }[] {
    const mine = this.weighed.rules.findIndex((r) => r.id === id);
    const found: { item: number; ends: number }[] = [];
    const inOrder = () => found.sort((a, b) => a.ends - b.ends || a.item - b.item);
    for (const { index, set, verdicts } of this.blocks) {
      const heldAny = Bitmap.union(verdicts.held);
      set.forEach((n) => {
        const at = index.at(n);
        if ((verdicts.by[at] as number) !== mine || !this.#isOver(verdicts, at) || heldAny.has(n)) return;
        const [ends, item] = [verdicts.ends[at] as number, index.number * BLOCK + n];
        if (after && (ends < after[0] || (ends === after[0] && item <= after[1]))) return;
        if (found.push({ item, ends }) >= size * 5 + 100) inOrder().length = Math.min(found.length, size);
      });
    }
    return inOrder().slice(0, size);
  }

  /** What is due, by what decides: an id of a rule, `item:` and one of an exception, '' for a law alone. With what follows. */
  due(): ReadonlyMap<string, Bitmap> {
    const { rules, exceptions } = this.weighed;
    const found = new Map<number, Map<number, number[]>>();
    for (const { index, set, verdicts } of this.blocks) {
      const heldAny = Bitmap.union(verdicts.held);
      set.forEach((item) => {
        const at = index.at(item);
        if (!this.#isOver(verdicts, at) || heldAny.has(item)) return;
        const by = verdicts.by[at] as number;
        const parts = found.get(by) ?? new Map<number, number[]>();
        found.set(by, parts);
        const numbers = parts.get(index.number);
        if (numbers) numbers.push(item);
        else parts.set(index.number, [item]);
      });
    }
    return new Map(
      [...found].map(([by, parts]) => [
        by < 0 ? '' : by < rules.length ? (rules[by]?.id ?? '') : (exceptions[by - rules.length]?.id ?? ''),
        Bitmap.ofParts(
          [...parts]
            .sort(([a], [b]) => a - b)
            .map(([number, items]) => [number, Bitmap.ofSorted(Uint32Array.from(items))]),
        ),
      ]),
    );
  }

  /** By source, the one with the most items that nothing lets go first. */
  bySource(): readonly SourceCoverage[] {
    const { rules } = this.weighed;
    const found = new Map<
      string,
      { items: number; ruled: number; byLaw: number; rules: Map<number, number> }
    >();
    for (const { index, set, verdicts } of this.blocks) {
      const { source: column, words } = index.block;
      set.forEach((item) => {
        const at = index.at(item);
        const source = words.sources[column[at] as number] ?? '';
        const of = found.get(source) ?? { items: 0, ruled: 0, byLaw: 0, rules: new Map<number, number>() };
        found.set(source, of);
        of.items++;
        const by = verdicts.by[at] as number;
        if (by >= 0) of.ruled++;
        else if ((verdicts.ends[at] as number) !== NEVER) of.byLaw++;
        if (by >= 0 && by < rules.length) of.rules.set(by, (of.rules.get(by) ?? 0) + 1);
      });
    }
    const bare = (of: SourceCoverage) => of.items - of.ruled - of.byLaw;
    return [...found]
      .map(([source, of]) => ({
        source,
        ...of,
        rules: most(of.rules).map(([r, items]) => ({ id: rules[r]?.id ?? '', items })),
      }))
      .sort((a, b) => bare(b) - bare(a) || (a.source < b.source ? -1 : 1));
  }

  /** Of a hold: the other holds that cover some of the same, and how many. */
  overlaps(id: string): readonly { readonly id: string; readonly covers: number }[] {
    const { holds } = this.weighed;
    const mine = holds.findIndex((h) => h.id === id);
    return holds
      .map((h, at) => ({
        id: h.id,
        covers:
          at === mine
            ? 0
            : this.blocks.reduce(
                (n, { set, verdicts: { held } }) =>
                  n + set.countAnd((held[mine] ?? Bitmap.EMPTY).and(held[at] ?? Bitmap.EMPTY)),
                0,
              ),
      }))
      .filter((h) => h.covers > 0);
  }

  /** Items that neither a rule nor a law lets go, and no exception is made for. */
  uncovered(): {
    readonly parts: readonly { readonly index: BlockIndex; readonly set: Bitmap }[];
    readonly size: number;
  } {
    const parts = this.blocks.map(({ index, set, verdicts }) => {
      const bare: number[] = [];
      set.forEach((item) => {
        const at = index.at(item);
        if ((verdicts.by[at] as number) < 0 && (verdicts.ends[at] as number) === NEVER) bare.push(item);
      });
      return { index, set: Bitmap.ofSorted(Uint32Array.from(bare)) };
    });
    return { parts, size: parts.reduce((n, p) => n + p.set.size, 0) };
  }

  #isOver(verdicts: BlockVerdicts, at: number, later = 0): boolean {
    return (
      (verdicts.ends[at] as number) < this.#today + later && THENS[verdicts.then[at] as number] !== 'nothing'
    );
  }
}

const BLOCK = 0x1_0000;
const NOTHING = { about: 0, decides: 0, due: 0, held: 0, running: 0, forGood: 0, moved: 0 };
type Counting = { -readonly [K in keyof RuleTotals]: RuleTotals[K] };

function count(of: Counting, isOver: boolean, isHeld: boolean, ends: number, movedBy: number): void {
  of.decides++;
  if (movedBy >= 0) of.moved++;
  if (isHeld) of.held++;
  else if (isOver) of.due++;
  else if (ends === NEVER) of.forGood++;
  else of.running++;
}

function add(
  all: Map<number, { items: number; examples: number[] }>,
  key: number,
  item: number,
): { items: number; examples: number[] } {
  const of = all.get(key) ?? { items: 0, examples: [] };
  all.set(key, of);
  of.items++;
  if (of.examples.length < EXAMPLES) of.examples.push(item);
  return of;
}

function most(counts: ReadonlyMap<number, number>): readonly (readonly [number, number])[] {
  return [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
}

function monthOf(day: number): string {
  return new Date(day * 86_400_000).toISOString().slice(0, 7);
}
