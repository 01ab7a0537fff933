import { expect, it } from 'vitest';
import { growingWait } from './growing-wait.ts';

it('costs nothing at first, then twice as long each time, up to the most', () => {
  const growth = { free: 5, most: 900 };
  expect([0, 4, 5, 6, 7, 12, 13, 14, 5000].map((n) => growingWait(n, growth))).toEqual([
    0, 0, 2, 4, 8, 256, 512, 900, 900,
  ]);
});
