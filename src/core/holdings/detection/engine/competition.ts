import { confidence, sumOf } from '../detector/confidence.ts';
import { coverOf, stronger, type Hit } from './hit.ts';
import { SLACK } from './prepared-detector.ts';

/** Whether a hit counts by what speaks for it. */
export function isKept(h: Hit): boolean {
  const beyond = sumOf(h.steps) - h.ready.needed;
  // At the edge the share itself decides.
  return beyond > SLACK || (beyond > -SLACK && confidence(sumOf(h.steps)) >= h.ready.of.keepFrom);
}

/** Where several competing detectors read the same characters, the surest keeps them; a common word in them is theirs. */
export function compete(hits: readonly Hit[], upTo: number): void {
  const field = hits.filter((h) => h.ready.of.competes && h.dropped === '' && isKept(h));
  const beaten: [Hit, Hit][] = [];
  for (const [i, h] of field.entries()) {
    if (h.settled > 0 || h.start >= upTo) continue;
    let by: Hit | undefined;
    for (let j = i - 1; j >= 0 && j >= i - 64; j--) {
      const o = field[j] as Hit;
      if (o.end > h.start && stronger(o, h)) by = o;
    }
    for (let j = i + 1; j < field.length && (field[j] as Hit).start < h.end; j++)
      if (stronger(field[j] as Hit, h)) by = field[j] as Hit;
    if (by) beaten.push([h, by]);
  }
  for (const [h, by] of beaten) h.dropped = `reads as ${by.ready.of.name}, which is surer`;
  for (const h of hits) {
    if (!h.ready.waits || h.settled > 0 || h.start >= upTo || h.dropped !== '') continue;
    const over = coverOf(h, field);
    if (over) h.dropped = `is part of what reads as ${over.ready.of.name}`;
  }
}
