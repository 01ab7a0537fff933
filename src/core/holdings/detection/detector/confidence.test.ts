import { expect, it } from 'vitest';
import { confidenceWords } from './confidence.ts';

it.each([
  [1, 0, '100%'],
  [0.9999, 0, 'over 99%'],
  [0.9949, 0, '99%'],
  [0.9999, 1, 'over 99.9%'],
  [0.951, 1, '95.1%'],
  [0.75, 1, '75%'],
  [0, 0, '0%'],
])('%d with %i digits reads %s', (share, digits, words) =>
  expect(confidenceWords(share, digits)).toBe(words),
);
