import { describe, expect, it } from 'vitest';
import { leftBefore } from '../estate/people.ts';
import type { Way } from './reach.ts';
import { wayPath, wayWords } from './reach-words.ts';

const names = { person: (id: string) => id.toUpperCase(), place: (id: string) => `“${id}”` };
const grant = (more: object = {}): Way =>
  ({
    ...{ is: 'grant', at: 'july', to: 'all', through: ['port', 'all'], strength: 'read' },
    ...{ until: null, beaten: false },
    ...more,
  }) as Way;

describe('a way', () => {
  it.each<[Way, string, string, string]>([
    [
      grant(),
      'PORT › ALL › granted at “july”: read',
      'PORT › ALL › granted at “july”',
      'PORT › ALL › granted here',
    ],
    [
      grant({ until: '2026-12-31', beaten: true }),
      'PORT › ALL › granted at “july”: read until 2026-12-31, denied',
      'PORT › ALL › granted at “july” until 2026-12-31, denied',
      'PORT › ALL › granted here until 2026-12-31, denied',
    ],
    [
      grant({ is: 'link', to: 'anyone', through: [] }),
      'anyone › link at “july”: read',
      'anyone › link at “july”',
      'anyone › link here',
    ],
    // A place that is called like a strength is left as it is called.
    [
      grant({ at: 'a: read', through: [] }),
      'granted at “a: read”: read',
      'granted at “a: read”',
      'granted at “a: read”',
    ],
    [{ is: 'owner', at: 'july', strength: 'give' } as Way, ...same('owner of “july”')],
    [
      { is: 'file system', at: 'july', by: 'user', strength: 'change' } as Way,
      'by an entry of their own: change',
      'by an entry of their own',
      'by an entry of their own',
    ],
  ])('%o is told with its strength, and without where that stands beside it', (way, whole, path, here) => {
    expect([wayWords(way, names), wayPath(way, names), wayPath(way, names, 'july')]).toEqual([
      whole,
      path,
      here,
    ]);
  });
});

function same(words: string): [string, string, string] {
  return [words, words, words];
}

it.each([
  [null, null],
  ['2026-11-29', '2026-11-29'],
  // The last day is still one of work, and what lies ahead is no leaving yet.
  ['2026-11-30', null],
  ['2027-01-31', null],
])('who worked until %s left, as of 30 November 2026, on %s', (left, told) => {
  expect(leftBefore({ left }, '2026-11-30')).toBe(told);
});
