import { expect, test } from 'vitest';
import { findLaw } from './laws.ts';
import { repetition } from './repetition.ts';

test.each<[string, string[], number, boolean, RegExp]>([
  ['gdpr', [], 0, false, /^$/],
  ['gdpr', ['2026-10-20'], 1, false, /second .* 15 days .*manifestly excessive/],
  ['gdpr', ['2026-05-01'], 1, false, /^The second of its kind in a year, 187 days after the one before\.$/],
  ['gdpr', ['2025-10-01'], 0, false, /^$/],
  ['ccpa', ['2026-02-01', '2026-05-01'], 2, true, /third .*CCPA gives 2 free/],
  ['ccpa', ['2026-05-01'], 1, false, /second/],
  ['us-co', ['2026-05-01'], 1, true, /one free/],
])('%s after %j', (law, earlier, inAYear, beyondLaw, words) => {
  const r = repetition(findLaw(law), '2026-11-04', earlier);
  expect(r).toMatchObject({ inAYear, beyondLaw });
  expect(r.words).toMatch(words);
});

test('what came later does not count', () => {
  expect(repetition(findLaw('gdpr'), '2026-11-04', ['2026-11-20']).inAYear).toBe(0);
});
