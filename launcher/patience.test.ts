import { expect, it } from 'vitest';
import { Patience } from './patience.ts';

it('waits longer each time, gives up on what keeps ending, and forgets once it ran well', () => {
  const patience = new Patience();
  const waits = Array.from({ length: 10 }, () => patience.after(100));
  expect(waits).toEqual([500, 1000, 2000, 4000, 8000, 16_000, 30_000, 30_000, undefined, undefined]);
  expect(patience.after(600_000)).toBe(500);
  expect(patience.after(10)).toBe(1000);
});
