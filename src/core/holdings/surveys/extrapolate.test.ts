import { expect, it } from 'vitest';
import { extrapolate } from './extrapolate.ts';

const counted = { items: 10, bytes: 1000, knownItems: 4, knownBytes: 40 };

it.each([
  [1, 10],
  [0.5, 20],
  [0.25, 40],
  [0.001, 10],
  [0, 10],
])('of %d seen there are %i in all', (seen, items) => expect(extrapolate(counted, seen).items).toBe(items));

it('reckons what is known by the same share', () =>
  expect(extrapolate(counted, 0.1)).toEqual({ items: 100, bytes: 10_000, knownItems: 40, knownBytes: 400 }));
