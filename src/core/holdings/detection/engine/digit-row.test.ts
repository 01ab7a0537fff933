import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DigitRow } from './digit-row.ts';

describe('a row of digits', () => {
  it('knows of any stretch whether a digit may stand in it, as looking at each cluster does', () => {
    const lengths = fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 5 })), {
      maxLength: 30,
    });
    fc.assert(
      fc.property(lengths, fc.nat(200), fc.nat(40), fc.nat(200), (steps, from, length, gone) => {
        const row = new DigitRow();
        const clusters: [number, number][] = [];
        let at = 0;
        for (const [gap, size] of steps) {
          clusters.push([at + gap, at + gap + size]);
          at += gap + size;
        }
        for (const [a, b] of clusters) {
          row.add(a, b);
          row.add(a, b);
        }
        const to = from + length;
        const slow = (known: readonly [number, number][]) => known.some(([a, b]) => b > from && a < to);
        expect(row.mayHave(from, to)).toBe(slow(clusters));
        row.forget(gone);
        expect(row.mayHave(from, to)).toBe(slow(clusters.filter(([, b]) => b > gone)));
      }),
    );
  });
});
