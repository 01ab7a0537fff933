import { expect, test } from 'vitest';
import { endsSoon, hazardOf } from './pattern-hazard.ts';

const words = (n: number) => Array.from({ length: n }, (_, i) => `w${i}`).join('|');

test.each([
  ['BS-\\d{6}', undefined, true],
  ['[A-Z]{2}\\d{2,12}', undefined, true],
  [`(?:${words(500)})`, undefined, true],
  [`(?:${words(30)})+`, undefined, false],
  [`(?:${words(500)})+`, /list of 500/, false],
  [`(?:x(?:${words(60)}))*`, /list of 60/, false],
  [`(?:${words(60)}){2}`, undefined, true],
  ['(a)\\1', /looks back/, false],
  ['(?<x>a)b\\k<x>', /looks back/, false],
  ['(?=(a+))\\1', /looks back/, false],
  ['a+', undefined, false],
  ['(?:a{1,9}){1,9}', undefined, false],
  ['(?:a{3}){1,9}', undefined, true],
  ['\\d{1,50}\\d{1,50}\\d{1,50}\\d{1,50}', undefined, false],
  ['(?:a?b?)c?', undefined, true],
])('%s: refused for %s, ends soon %s', (pattern, why, soon) => {
  if (why === undefined) expect(hazardOf(pattern)).toBeUndefined();
  else expect(hazardOf(pattern)).toMatch(why);
  expect(endsSoon(pattern)).toBe(soon);
});
