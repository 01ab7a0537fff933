import { expect, it, test } from 'vitest';
import fc from 'fast-check';
import { wilson } from './interval.ts';

// Worked values of the score interval, to four places.
test.each([
  [0, 10, 0, 0.2775],
  [10, 10, 0.7225, 1],
  [1, 10, 0.0179, 0.4042],
  [50, 100, 0.4038, 0.5962],
  [15, 148, 0.0624, 0.1605],
  [81, 263, 0.2553, 0.3662],
])('%i of %i lies in [%f, %f]', (successes, trials, low, high) => {
  const interval = wilson(successes, trials)!;
  expect(interval.low).toBeCloseTo(low, 4);
  expect(interval.high).toBeCloseTo(high, 4);
});

it('holds the share, stays in [0, 1] and narrows as trials grow', () => {
  fc.assert(
    fc.property(fc.nat(5000), fc.integer({ min: 1, max: 5000 }), (a, b) => {
      const [k, n] = a <= b ? [a, b] : [b, a];
      const one = wilson(k, n)!;
      const ten = wilson(k * 10, n * 10)!;
      expect(one.low).toBeGreaterThanOrEqual(0);
      expect(one.high).toBeLessThanOrEqual(1);
      expect(one.low).toBeLessThanOrEqual(one.share);
      expect(one.high).toBeGreaterThanOrEqual(one.share);
      expect(ten.high - ten.low).toBeLessThan(one.high - one.low);
    }),
  );
});

it('has no answer for nothing, and refuses impossible counts', () => {
  expect(wilson(0, 0)).toBeUndefined();
  expect(() => wilson(2, 1)).toThrow(RangeError);
  expect(() => wilson(-1, 1)).toThrow(RangeError);
  expect(() => wilson(0.5, 1)).toThrow(RangeError);
});
