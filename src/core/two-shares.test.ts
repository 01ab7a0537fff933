import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { changedByMoreThanChance, differenceByChance } from './two-shares.ts';

const of = (successes: number, trials: number) => ({ successes, trials });

// Worked by hand: z = |p1 - p2| / sqrt(p(1 - p)(1/n1 + 1/n2)).
test.each([
  [of(50, 100), of(50, 100), 1],
  [of(60, 100), of(50, 100), 0.1552],
  [of(600, 1000), of(500, 1000), 0.0000068],
  [of(0, 10), of(0, 20), 1],
  [of(1, 1), of(0, 0), 1],
])('%o and %o: p %f', (a, b, p) => {
  expect(differenceByChance(a, b)).toBeCloseTo(p, 4);
});

it('is the same both ways, and between 0 and 1', () => {
  const counted = fc.nat(500).chain((n) => fc.nat(n).map((k) => of(k, n)));
  fc.assert(
    fc.property(counted, counted, (a, b) => {
      const p = differenceByChance(a, b);
      expect(p).toBeCloseTo(differenceByChance(b, a), 9);
      expect(p).toBeGreaterThanOrEqual(-1e-6);
      expect(p).toBeLessThanOrEqual(1 + 1e-6);
    }),
  );
});

it('marks a change that is more than chance, and with many looks only a larger one', () => {
  expect(changedByMoreThanChance([of(500, 1000), of(430, 1000)])).toEqual([false, true]);
  const still = Array.from({ length: 40 }, () => of(500, 1000));
  expect(changedByMoreThanChance([...still, of(435, 1000)]).at(-1)).toBe(false);
  expect(changedByMoreThanChance([...still, of(350, 1000)]).at(-1)).toBe(true);
});
