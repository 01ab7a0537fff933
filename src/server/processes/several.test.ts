import { expect, it } from 'vitest';
import { pause } from './pause.ts';
import { several } from './several.ts';

it.each([
  [1, 1],
  [2, 2],
  [9, 5],
  [0, 1],
])('works on %i at once, so %i of five, and keeps their order', async (atOnce, most) => {
  let [now, peak] = [0, 0];
  const done = await several([5, 4, 3, 2, 1], atOnce, async (n, i) => {
    peak = Math.max(peak, ++now);
    await pause(n);
    now--;
    return `${i}:${n}`;
  });
  expect(done).toEqual(['0:5', '1:4', '2:3', '3:2', '4:1']);
  expect(peak).toBe(most);
});

it('throws the first failure, and has nothing to do with nothing', async () => {
  await expect(several([1, 2], 2, (n) => Promise.reject(new Error(`${n} sank`)))).rejects.toThrow('1 sank');
  expect(await several([], 3, () => Promise.resolve(1))).toEqual([]);
});
