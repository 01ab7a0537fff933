import { expect, test } from 'vitest';
import { betterBy } from './figure.ts';

test.each([
  ['more', 1, 3, 2],
  ['less', 1, 3, -2],
  ['less', 3, 0, 3],
  ['neither', 1, 3, undefined],
  ['more', null, 3, undefined],
  ['more', 3, null, undefined],
] as const)('where %s is good, %s to %s is better by %s', (good, before, after, by) => {
  expect(betterBy(good, before, after)).toBe(by);
});
