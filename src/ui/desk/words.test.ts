import { describe, expect, it, test } from 'vitest';
import { queryString } from './request.ts';
import {
  countryWords,
  countWords,
  dayWords,
  durationWords,
  numberWords,
  percentWords,
  sizeWords,
  whenWords,
} from './words.ts';

const local = (y: number, m: number, d: number, h = 12, min = 0) => new Date(y, m - 1, d, h, min);

describe('dates', () => {
  const now = local(2026, 3, 30, 9);
  test.each([
    [local(2026, 3, 30, 0, 5), 'today 00:05'],
    [local(2026, 3, 29, 23, 59), 'yesterday 23:59'],
    // The day before is yesterday even when it had only 23 hours.
    [local(2026, 3, 29, 0, 1), 'yesterday 00:01'],
    [local(2026, 3, 28, 12), '28 Mar 12:00'],
    [local(2025, 12, 31, 12), '31 Dec 2025 12:00'],
  ])('%s is %s', (at, words) => {
    expect(whenWords(at.toISOString(), now)).toBe(words);
  });

  it('leave the hour out where only the day matters', () => {
    expect(dayWords(local(2026, 3, 28).toISOString(), now)).toBe('28 Mar');
    expect(dayWords(local(2026, 3, 30).toISOString(), now)).toBe('today');
  });
});

test.each([
  [0.4, '1 s'],
  [59, '59 s'],
  [90, '2 min'],
  [3600, '1 h 0 min'],
  [5400, '1 h 30 min'],
])('%f seconds are %s', (seconds, words) => {
  expect(durationWords(seconds)).toBe(words);
});

it('counts in words, with thousands apart', () => {
  expect([
    countWords(1, 'leak'),
    countWords(0, 'leak'),
    countWords(2, 'tracker runs', 'trackers run'),
  ]).toEqual(['1 leak', '0 leaks', '2 trackers run']);
  expect([numberWords(33560), percentWords(0.6142, 1), percentWords(0.5)]).toEqual([
    '33,560',
    '61.4%',
    '50%',
  ]);
});

it('puts only what is set into a query', () => {
  expect(queryString({ a: 1, b: '', c: undefined, d: null, e: 'x&y=z' })).toBe('?a=1&e=x%26y%3Dz');
  expect(queryString({})).toBe('');
});

test.each([
  [0, '0 B'],
  [999, '999 B'],
  [1000, '1.00 kB'],
  [23_249, '23.2 kB'],
  [999_499, '999 kB'],
  [999_999, '1.00 MB'],
  [4.34e6, '4.34 MB'],
  [123e12, '123 TB'],
  [5e15, '5000 TB'],
])('%i bytes are %s', (bytes, words) => expect(sizeWords(bytes)).toBe(words));

it('names countries', () => expect([countryWords('DK'), countryWords('XQ')]).toEqual(['Denmark', 'XQ']));
