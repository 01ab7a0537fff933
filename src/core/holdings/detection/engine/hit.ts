import { sumOf, type Step } from '../detector/confidence.ts';
import { firstIndex } from '../../../text/first-index.ts';
import type { Prepared } from './prepared-detector.ts';
import type { Segment } from '../../../text/segment.ts';

/** How far apart two findings of one line or sentence may be. */
const COMPANY = 300;

/** A match under way to a finding. Offsets count from the beginning of the whole text. */
export interface Hit {
  readonly ready: Prepared;
  readonly start: number;
  readonly end: number;
  readonly value: string;
  readonly steps: Step[];
  readonly segment: Segment | undefined;
  dropped: string;
  settled: number;
}

/** A word that is common in writing. It becomes a hit only if what stands near it can make it count. */
export interface Waiting {
  readonly ready: Prepared;
  readonly start: number;
  readonly end: number;
}

export const inOrder = (a: Hit, b: Hit) =>
  a.start - b.start || b.end - a.end || a.ready.index - b.ready.index;

/** What other detectors found near a match adds to it. */
export function companyOf(
  h: Hit | Waiting,
  segment: Segment | undefined,
  ids: ReadonlyMap<string, readonly Hit[]>,
): Step[] {
  const steps: Step[] = [];
  for (const c of h.ready.company) {
    const all = ids.get(c.detector);
    if (!all) continue;
    const from = (start: number) => firstIndex(0, all.length, (i) => (all[i] as Hit).start >= start);
    const near = all.slice(from(h.start - COMPANY), from(h.end + COMPANY)).find((o) => {
      if (o === h || (o.start < h.end && o.end > h.start)) return false;
      const before = o.end <= h.start;
      const distance = before ? h.start - o.end : o.start - h.end;
      if (c.where === 'line' || c.where === 'sentence' || c.where === 'cell') {
        if (segment?.record !== undefined) return o.segment?.record === segment.record;
        return distance <= COMPANY;
      }
      return distance <= c.within && (c.where === 'before' ? before : c.where === 'after' ? !before : true);
    });
    if (near) steps.push({ words: `${near.ready.of.name} near it`, steps: c.steps });
  }
  return steps;
}

/** Whether `a` keeps characters that both read. */
export function stronger(a: Hit, b: Hit): boolean {
  const [x, y] = [sumOf(a.steps), sumOf(b.steps)];
  if (Math.abs(x - y) > 1e-9) return x > y;
  if (a.end - a.start !== b.end - b.start) return a.end - a.start > b.end - b.start;
  return a.ready.index < b.ready.index;
}

/** The first of some hits, in order, that has all of a shorter one’s characters, and has not been dropped. */
export function coverOf(h: Hit, others: readonly Hit[]): Hit | undefined {
  const behind = firstIndex(0, others.length, (i) => (others[i] as Hit).start > h.start);
  for (let i = behind - 1; i >= 0 && i >= behind - 64; i--) {
    const o = others[i] as Hit;
    if (o.dropped === '' && o.end >= h.end && o.end - o.start > h.end - h.start) return o;
  }
  return undefined;
}
