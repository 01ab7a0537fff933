import type { AnchorFunction } from '../detector/anchor-function.ts';
import { sumOf, type Step } from '../detector/confidence.ts';
import { compete, isKept } from './competition.ts';
import { mostAround, mostNear, weighContext } from './context-weight.ts';
import { DigitRow } from './digit-row.ts';
import { FARTHEST_CONTEXT, Surroundings } from './surroundings.ts';
import type { Finder, Seeker, Trigger, TriggerTable } from './trigger-table.ts';
import type { DetectionResult, Finding, Stopped } from '../detector/finding.ts';
import { firstIndex } from '../../../text/first-index.ts';
import { companyOf, inOrder, type Hit, type Waiting } from './hit.ts';
import { LONGEST } from '../pattern/pattern-syntax.ts';
import { SLACK, type Prepared } from './prepared-detector.ts';
import { isCell, segmentAt, type Segment } from '../../../text/segment.ts';
import { Telling, type TellingOptions } from './telling.ts';
import { TokenRow } from '../words/token-row.ts';
import { check, weigh } from './weigh.ts';
import { endsWord, goesOn, isWithinPair } from './word-edge.ts';
import type { WordEntry } from './word-index.ts';

/** Units of text on either side of a stretch that a search of it may have to see. */
export const MARGIN = LONGEST + FARTHEST_CONTEXT + 64;
const MOST_SURROUNDINGS = 16;
/** Up to so many places are tried one by one. */
const FEW_STARTS = 64;

export interface DetectOptions extends TellingOptions {
  /** Milliseconds that all detectors together may take, by the clock given. */
  readonly budget?: { readonly now: () => number; readonly ms: number };
  /** Told before a pattern runs, so that whoever has to end it knows which it was, and where. */
  readonly watch?: (detector: number, at: number) => void;
  /** Detectors to leave out, by index. */
  readonly without?: ReadonlySet<number>;
}

/** A stretch of a text: `text` and `units` reach `MARGIN` beyond [from, to) wherever the whole text does. */
export interface Stretch {
  readonly text: string;
  readonly units: Uint8Array;
  /** The offset of `text` in the whole. */
  readonly base: number;
  readonly from: number;
  readonly to: number;
  /** Offsets as in the whole text. */
  readonly segments: readonly Segment[];
  /** `text` is nothing but ASCII. */
  readonly isAscii?: boolean;
}

/** Reads a text stretch by stretch, in order, and hands findings on as soon as nothing later can change them. */
export class Search implements Finder {
  readonly #next: Float64Array;
  readonly #pendingFrom: Float64Array;
  readonly #pendingTo: Float64Array;
  readonly #pendingLast: Float64Array;
  readonly #pending: number[] = [];
  #farthest = -1;
  readonly #spent: Float64Array;
  readonly #off: Uint8Array;
  readonly #telling: Telling;
  readonly #stopped: Stopped[] = [];
  #hits: Hit[] = [];
  #waiting: Waiting[] = [];
  readonly #digits = new DigitRow();
  #stretch: Stretch = { text: '', units: new Uint8Array(16), base: 0, from: 0, to: 0, segments: [] };
  #units: Uint8Array = this.#stretch.units;
  #records: ReadonlyMap<number, readonly [number, number]> = new Map();
  #hasCells = false;
  readonly #surroundings: Surroundings[] = [];
  #row: TokenRow | undefined;
  #low = 0;
  #high = 0;

  constructor(
    readonly table: TriggerTable,
    readonly options: DetectOptions,
    readonly found: (finding: Finding) => void,
  ) {
    const n = table.seekers.length;
    this.#next = new Float64Array(n);
    this.#pendingFrom = new Float64Array(n).fill(-1);
    this.#pendingTo = new Float64Array(n).fill(-1);
    this.#pendingLast = new Float64Array(n);
    this.#spent = new Float64Array(n);
    this.#off = new Uint8Array(n);
    this.#telling = new Telling(table.ready, options, found);
  }

  read(stretch: Stretch): void {
    this.#stretch = stretch;
    this.#surroundings.length = 0;
    this.#low = stretch.from;
    this.#high = stretch.to;
    this.#records = recordsOf(stretch.segments);
    this.#hasCells = this.#records.size > 0 || stretch.segments.some(isCell);
    const units =
      stretch.units.length >= stretch.text.length + 8
        ? stretch.units
        : padded(stretch.units, stretch.text.length);
    this.#units = units;
    this.#row?.take(stretch.text, units);
    this.table.scan(
      stretch.text,
      units,
      stretch.from,
      Math.min(stretch.text.length, stretch.to + LONGEST),
      this.#records.size > 0,
      this,
    );
    this.#flushAll();
    if (this.table.readsHeadings) this.#readCells();
    this.#settle(stretch.base + stretch.to - MARGIN);
  }

  /** Settles what was read so far: nothing that is read later stands near it. */
  rest(): void {
    this.#settle(Infinity);
  }

  /** Settles what is left. */
  end(): Omit<DetectionResult, 'findings'> {
    this.#settle(Infinity);
    return { ...this.#telling.end(), stopped: this.#stopped };
  }

  window(seeker: number, from: number, to: number, last: number): void {
    // What is far behind is read now, all together: the patterns share what stands around.
    if (from > this.#farthest) this.#flushAll();
    this.#farthest = Math.max(this.#farthest, to);
    const pendingTo = this.#pendingTo[seeker] as number;
    if (pendingTo >= 0) {
      if (from <= pendingTo) {
        if (to > pendingTo) this.#pendingTo[seeker] = to;
        if (from < (this.#pendingFrom[seeker] as number)) this.#pendingFrom[seeker] = from;
        if (last > (this.#pendingLast[seeker] as number)) this.#pendingLast[seeker] = last;
        return;
      }
      this.#flush(seeker);
    }
    this.#pending.push(seeker);
    this.#pendingFrom[seeker] = from;
    this.#pendingTo[seeker] = to;
    this.#pendingLast[seeker] = last;
  }

  #flushAll(): void {
    for (const seeker of this.#pending) this.#flush(seeker);
    this.#pending.length = 0;
    this.#farthest = -1;
  }

  /** Runs a pattern over the window that was gathered for it. */
  #flush(at: number): void {
    const windowTo = this.#pendingTo[at] as number;
    if (windowTo < 0) return;
    const windowFrom = this.#pendingFrom[at] as number;
    this.#pendingTo[at] = -1;
    if (this.#off[at]) return;
    const { text, base } = this.#stretch;
    const { ready } = this.table.seekers[at] as Seeker;
    // A window may reach back before this stretch: what began there was found there.
    const from = Math.max(windowFrom, this.#low, (this.#next[at] as number) - base, 0);
    const to = Math.min(windowTo, text.length);
    const last = Math.min(to, this.#high);
    if (from >= last) return;
    const { budget, watch, without } = this.options;
    if (without?.has(ready.index) || !this.#mayCount(at, from, to)) return;
    watch?.(ready.index, base + from);
    const began = budget ? budget.now() : 0;
    if (this.#records.size === 0) this.#search(at, from, to, 0, text.length);
    else for (const [low, high] of this.#bounds(from, to)) this.#search(at, from, to, low, high);
    if (budget) this.#charge(at, budget.now() - began, base + from);
  }

  /** Whether what stands around [from, to) may make a match of the pattern count that lies in it; by a quick look. */
  #mayCount(at: number, from: number, to: number): boolean {
    const { ready, keepsWords, margin } = this.table.seekers[at] as Seeker;
    // A cut word or number, or a cell, would let other words be read.
    if (ready.leastContext <= SLACK || !keepsWords || this.#hasCells || this.options.nearMisses) return true;
    const { text, isAscii } = this.#stretch;
    const { length } = text;
    const end = Math.min(length, to + margin);
    const units = this.#units;
    if (!isAscii)
      for (let i = Math.max(0, from - 1); i <= end; i++)
        if ((units[i] as number) > 127 || units[i] === 1) return true;
    const row = this.#rowHere();
    const [before, after] = ready.reach;
    if (!row.within(Math.max(0, from - before), Math.min(length, end + after), false, false)) return true;
    if (ready.helpers && !row.hasBegunAny(ready.helpers)) return false;
    return ready.leastContext - mostNear(ready.context, row, text, from, end) <= SLACK;
  }

  /** Runs a pattern for what begins in [from, to); it sees nothing outside [low, high). */
  #search(at: number, from: number, to: number, low: number, high: number): void {
    const { margin } = this.table.seekers[at] as Seeker;
    const begin = Math.max(from, low);
    // Farther on, the text may be cut before a match ends.
    const last = Math.min(to - 1, this.#high - 1, this.#pendingLast[at] as number);
    const cut = Math.max(low, begin - margin);
    const end = Math.min(high, to + margin);
    if (last - begin < FEW_STARTS) this.#tryEach(at, begin, last, cut, end, low);
    else this.#searchAll(at, begin, last, cut, end);
  }

  /** Runs a pattern over the text in [cut, end) for what begins in [begin, last]. */
  #searchAll(at: number, begin: number, last: number, cut: number, end: number): void {
    const { regex, ready } = this.table.seekers[at] as Seeker;
    const slice = this.#stretch.text.slice(cut, end);
    regex.lastIndex = begin - cut;
    for (let m = regex.exec(slice); m; m = regex.exec(slice)) {
      const start = cut + m.index;
      if (start > last) break;
      const { length } = m[0];
      if (length === 0) {
        // By a whole sign: in the middle of a pair it would be found again.
        regex.lastIndex = m.index + ((slice.codePointAt(m.index) ?? 0) > 0xffff ? 2 : 1);
        continue;
      }
      this.#matched(at, ready, start, start + length);
      if (start + length > last) break;
    }
  }

  /** As `#searchAll`, place by place where a match may begin: they are few. */
  #tryEach(at: number, begin: number, last: number, cut: number, to: number, low: number): void {
    const { sticky, start: may, ready } = this.table.seekers[at] as Seeker;
    const { text } = this.#stretch;
    const units = this.#units;
    let slice: string | undefined;
    for (let start = begin; start <= last; start++) {
      if (may.inside[units[start] as number] !== 1) continue;
      if (start > low && (may.barred[units[start - 1] as number] === 1 || isWithinPair(text, start)))
        continue;
      slice ??= text.slice(cut, to);
      sticky.lastIndex = start - cut;
      if (!sticky.test(slice)) continue;
      // It stands behind the match now.
      const end = cut + sticky.lastIndex;
      if (end === start) continue;
      this.#matched(at, ready, start, end);
      start = end - 1;
    }
  }

  #matched(at: number, ready: Prepared, start: number, end: number): void {
    this.#next[at] = this.#stretch.base + end;
    if (ready.of.anchor.by === 'words') this.#word(ready, start, end);
    else this.#hit(ready, start, end, []);
  }

  /** What a match in [from, to) may not reach beyond where there are cells: its own. */
  #bounds(from: number, to: number): readonly (readonly [number, number])[] {
    const { segments, base, text } = this.#stretch;
    const bounds: [number, number][] = [];
    let open = from;
    for (let i = firstEnding(segments, base + from); i < segments.length; i++) {
      const s = segments[i] as Segment;
      if (s.start - base >= to) break;
      if (s.record === undefined) continue;
      const start = Math.max(0, s.start - base);
      if (start > open) bounds.push([open, start]);
      bounds.push([start, Math.min(text.length, s.end - base)]);
      open = s.end - base;
    }
    if (open < to) bounds.push([open, Math.min(text.length, to)]);
    return bounds;
  }

  #charge(at: number, ms: number, where: number): void {
    const spent = ((this.#spent[at] as number) += ms);
    if (spent <= (this.options.budget?.ms ?? Infinity)) return;
    this.#off[at] = 1;
    const { of } = (this.table.seekers[at] as Seeker).ready;
    this.#stopped.push({
      detector: of.id,
      at: where,
      why: `Its pattern took more than ${this.options.budget?.ms} ms and was left out from here on`,
    });
  }

  word(trigger: Exclude<Trigger, { what: 'seek' }>, entry: WordEntry<Trigger>, at: number): void {
    const { text } = this.#stretch;
    if (at > 0 && endsWord(text, at)) return;
    const end = at + entry.text.length;
    if (trigger.what === 'function') {
      const hit = trigger.fn.at(text, at, end);
      if (hit && hit.end > hit.start) this.#once(trigger.ready, hit.start, hit.end, hit.steps);
      return;
    }
    let start = at;
    if (trigger.before) {
      const before = trigger.before.regex.exec(text.slice(Math.max(0, at - trigger.before.most), at));
      if (!before) return;
      start = at - before[0].length;
      if (start > 0 && endsWord(text, start)) return;
    }
    let stop = end;
    if (trigger.rest) {
      trigger.rest.lastIndex = end;
      const rest = trigger.rest.exec(text);
      if (!rest) return;
      stop = end + rest[0].length;
    } else if (!trigger.stem && end < text.length && goesOn(text.charCodeAt(end))) return;
    if (trigger.stem) while (stop < text.length && /[\p{L}\p{M}]/u.test(text[stop] as string)) stop++;
    this.#word(trigger.ready, start, stop);
  }

  sign(ready: Prepared, fn: AnchorFunction, at: number): void {
    const hit = fn.atSign(this.#stretch.text, at);
    if (hit) this.#once(ready, hit.start, hit.end, hit.steps);
  }

  #word(ready: Prepared, start: number, end: number): void {
    if (ready.waits && !this.options.nearMisses) this.#wait(ready, start, end);
    else this.#once(ready, start, end, []);
  }

  digits(from: number, to: number): void {
    const { base } = this.#stretch;
    this.#digits.add(base + from, base + to);
  }

  /** As `#once`, of words that become hits later, if at all. */
  #wait(ready: Prepared, from: number, to: number): void {
    if (from < this.#low || from >= this.#high) return;
    const waiting = this.#waiting;
    const start = this.#stretch.base + from;
    const end = this.#stretch.base + to;
    for (let i = waiting.length - 1; i >= 0 && i >= waiting.length - 40; i--) {
      const w = waiting[i] as Waiting;
      if (w.end <= start - LONGEST) break;
      if (w.ready !== ready || w.start >= end || w.end <= start) continue;
      if (w.end - w.start >= end - start) return;
      waiting.splice(i, 1);
    }
    waiting.push({ ready, start, end });
  }

  /** Of several matches of one detector that overlap, the longest. */
  #once(ready: Prepared, start: number, end: number, steps: readonly Step[]): void {
    // What begins in the margin belongs to the stretch before or after.
    if (start < this.#low || start >= this.#high) return;
    const { base } = this.#stretch;
    for (let i = this.#hits.length - 1; i >= 0 && i >= this.#hits.length - 40; i--) {
      const h = this.#hits[i] as Hit;
      if (h.ready !== ready || h.start >= base + end || h.end <= base + start) continue;
      if (h.settled > 0 || h.end - h.start >= end - start) return;
      this.#hits.splice(i, 1);
    }
    this.#hit(ready, start, end, steps);
  }

  #readCells(): void {
    const { segments, text, base } = this.#stretch;
    const { watch, without } = this.options;
    for (const s of segments) {
      if (s.start - base >= this.#high) break;
      if (s.start - base < this.#low || s.heading === undefined || s.end - s.start > LONGEST) continue;
      for (const { ready, fn } of this.table.readersOf(s.heading)) {
        if (without?.has(ready.index)) continue;
        watch?.(ready.index, s.start);
        const hit = fn.cell(text, s.start - base, s.end - base);
        if (!hit) continue;
        const taken = this.#hits.some(
          (h) =>
            h.ready === ready &&
            h.start < base + hit.end &&
            h.end > base + hit.start &&
            h.end - h.start >= hit.end - hit.start,
        );
        if (taken) continue;
        this.#hits = this.#hits.filter(
          (h) => h.ready !== ready || h.settled > 0 || h.start >= base + hit.end || h.end <= base + hit.start,
        );
        this.#hit(ready, hit.start, hit.end, hit.steps);
      }
    }
  }

  /** Offsets in the stretch's text. */
  #hit(ready: Prepared, start: number, end: number, more: readonly Step[]): void {
    const { text, base, segments } = this.#stretch;
    const value = text.slice(start, end);
    const segment = segments.length > 0 ? segmentAt(segments, base + start) : undefined;
    let steps: Step[];
    let dropped = '';
    if (this.options.nearMisses) {
      steps = [ready.base, ...more];
      dropped = check(ready, value, steps);
      if (ready.context.length > 0)
        steps.push(...weighContext(ready.context, this.#around(start, end, segment)));
    } else {
      const weighed = weigh(ready, value, () => this.#around(start, end, segment), more);
      if (!weighed) return;
      steps = weighed;
    }
    this.#hits.push({
      ready,
      start: base + start,
      end: base + end,
      value,
      steps,
      segment,
      dropped,
      settled: 0,
    });
  }

  /** Several detectors often match the same characters. */
  #around(start: number, end: number, segment: Segment | undefined): Surroundings {
    const last = this.#surroundings;
    for (let i = last.length - 1; i >= 0; i--) {
      const known = last[i] as Surroundings;
      if (known.start === start && known.end === end) return known;
    }
    const { text, base } = this.#stretch;
    const local =
      segment && base > 0 ? { ...segment, start: segment.start - base, end: segment.end - base } : segment;
    const record = segment?.record === undefined ? undefined : this.#records.get(segment.record);
    const made = new Surroundings(
      text,
      start,
      end,
      local,
      record && [Math.max(0, record[0] - base), record[1] - base],
      this.#rowHere(),
    );
    if (last.length >= MOST_SURROUNDINGS) last.length = 0;
    last.push(made);
    return made;
  }

  #rowHere(): TokenRow {
    if (!this.#row) {
      this.#row = new TokenRow(this.table.lexicon);
      this.#row.take(this.#stretch.text, this.#units);
    }
    return this.#row;
  }

  /** Settles every hit that begins before `upTo`. */
  #settle(upTo: number): void {
    const hits = this.#hits.sort(inOrder);
    const ids = new Map<string, Hit[]>();
    this.#addKept(ids, hits);
    this.#weighCompany(0, upTo, ids);
    if (this.table.hasRounds) {
      ids.clear();
      this.#addKept(ids, hits);
      this.#weighCompany(1, upTo, ids);
    }
    this.#digits.forget(upTo - MARGIN);
    compete(hits, upTo);
    for (const h of hits) {
      if (h.settled > 0 || h.start >= upTo) continue;
      h.settled = 1;
      this.#telling.tell(h);
    }
    // What may still be company or competition stays.
    this.#hits = hits.filter((h) => h.settled === 0 || h.end > upTo - MARGIN);
    if (upTo === Infinity) this.#hits = [];
  }

  /** Those that count, by their detector, in order. */
  #addKept(ids: Map<string, Hit[]>, hits: readonly Hit[]): void {
    for (const h of hits) {
      if (h.dropped !== '' || !isKept(h)) continue;
      const known = ids.get(h.ready.of.id);
      if (known) known.push(h);
      else ids.set(h.ready.of.id, [h]);
    }
  }

  /** What others near them say of the detectors of a round. */
  #weighCompany(round: 0 | 1, upTo: number, ids: ReadonlyMap<string, readonly Hit[]>): void {
    for (const h of this.#hits)
      if (h.ready.round === round && h.settled === 0 && h.start < upTo && h.dropped === '')
        h.steps.push(...companyOf(h, h.segment, ids));
    this.#weighWaiting(round, upTo, ids);
  }

  /** Makes hits of those words that may count by what stands near them. */
  #weighWaiting(round: 0 | 1, upTo: number, ids: ReadonlyMap<string, readonly Hit[]>): void {
    const { text, base, segments } = this.#stretch;
    const later: Waiting[] = [];
    let some = false;
    for (const w of this.#waiting) {
      if (w.start >= upTo || w.ready.round !== round) {
        later.push(w);
        continue;
      }
      const { context, contextSteps, digitlessSteps, digitReach, needed, base: own } = w.ready;
      const segment = segments.length > 0 ? segmentAt(segments, w.start) : undefined;
      const company = w.ready.company.length > 0 ? companyOf(w, segment, ids) : [];
      const lacking = needed - own.steps - w.ready.checkSteps - sumOf(company) - SLACK;
      if (contextSteps < lacking) continue;
      if (digitlessSteps < lacking && !this.#digits.mayHave(w.start - digitReach, w.end + digitReach))
        continue;
      const around = this.#around(w.start - base, w.end - base, segment);
      if (mostAround(context, around) < lacking) continue;
      const value = text.slice(w.start - base, w.end - base);
      const steps = [own];
      if (check(w.ready, value, steps) !== '') continue;
      steps.push(...company, ...weighContext(context, around));
      this.#hits.push({ ...w, value, steps, segment, dropped: '', settled: 0 });
      some = true;
    }
    this.#waiting = later;
    if (some) this.#hits.sort(inOrder);
  }
}

/** The index of the first stretch that ends beyond `offset`. */
const firstEnding = (segments: readonly Segment[], offset: number): number =>
  firstIndex(0, segments.length, (i) => (segments[i] as Segment).end > offset);

function recordsOf(segments: readonly Segment[]): ReadonlyMap<number, readonly [number, number]> {
  const records = new Map<number, readonly [number, number]>();
  for (const s of segments) {
    if (s.record === undefined) continue;
    const known = records.get(s.record);
    records.set(s.record, known ? [known[0], Math.max(known[1], s.end)] : [s.start, s.end]);
  }
  return records;
}

function padded(units: Uint8Array, length: number): Uint8Array {
  const longer = new Uint8Array(length + 16);
  longer.set(units.subarray(0, length));
  return longer;
}
