import { expect, it } from 'vitest';
import { ratesOf, type RateCount } from './rate.ts';

const count = (key: string, answered: number, refused: number, asked = answered): RateCount => ({
  ...{ key, shown: null, answered, refused },
  purposes: { measurement: { asked, allowed: asked - refused < 0 ? 0 : asked - refused } },
});

it('tells shares with their intervals, and withholds a small group and a purpose that few were asked for', () => {
  const [large, small, few] = ratesOf(
    [count('DK', 100, 40), count('FO', 9, 1), count('SE', 50, 5, 8)],
    false,
  );
  expect(large?.shares?.refused).toMatchObject({ share: 0.4 });
  expect(large?.shares?.purposes['measurement']?.share).toBe(0.6);
  expect(small).toMatchObject({ answered: 9, shares: null });
  expect(few?.shares?.purposes['measurement']).toBeNull();
});

it('marks a change from the row before only where rows follow each other', () => {
  const weeks = [count('1', 1000, 500), count('2', 5, 5), count('3', 1000, 300), count('4', 1000, 310)];
  expect(ratesOf(weeks, true).map((r) => r.changed)).toEqual([false, false, true, false]);
  expect(ratesOf(weeks, false).some((r) => r.changed)).toBe(false);
});
