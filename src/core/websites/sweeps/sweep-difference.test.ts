import { expect, it, test } from 'vitest';
import fc from 'fast-check';
import {
  invertDifference,
  isNoDifference,
  sweepDifference,
  whatMatters,
  type SweptTracker,
} from './sweep-difference.ts';

const tracker = (name: string, over: Partial<SweptTracker> = {}): SweptTracker => ({
  kind: 'cookie',
  name,
  host: 'a.example',
  purpose: 'measurement',
  lifetime: 30 * 86400,
  leaks: [],
  cause: 'b.example/w.js',
  ...over,
});

it('tells new, gone, longer lives, and leaks that came and went', () => {
  const before = [tracker('old'), tracker('uid', { leaks: ['before', 'refused'] })];
  const after = [
    tracker('uid', { lifetime: 390 * 86400, leaks: ['refused'] }),
    tracker('chat', { leaks: ['before'] }),
  ];
  const d = sweepDifference(before, after);
  expect(d.added.map((t) => t.name)).toEqual(['chat']);
  expect(d.gone.map((t) => t.name)).toEqual(['old']);
  expect(d.lives).toEqual([
    { tracker: expect.objectContaining({ name: 'uid' }), before: '30 days', after: '13 months' },
  ]);
  expect(d.leaksNow.map((l) => [l.tracker.name, l.visitors])).toEqual([['chat', ['before']]]);
  expect(d.leaksNoMore.map((l) => [l.tracker.name, l.visitors])).toEqual([['uid', ['before']]]);
});

it('of a sweep with itself is nothing, and mirrors when turned round', () => {
  const list = fc
    .uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 5 })
    .chain((names) =>
      fc.tuple(
        ...names.map((n) =>
          fc.record({ leaks: fc.subarray(['before', 'refused'] as const) }).map((o) => tracker(n, o)),
        ),
      ),
    );
  fc.assert(
    fc.property(list, list, (a, b) => {
      expect(isNoDifference(sweepDifference(a, a))).toBe(true);
      const there = sweepDifference(a, b);
      const back = sweepDifference(b, a);
      const turned = invertDifference(there);
      const names = (l: readonly { name: string }[]) => l.map((t) => t.name).toSorted();
      expect([names(turned.added), names(turned.gone)]).toEqual([names(back.added), names(back.gone)]);
      expect(invertDifference(turned)).toEqual(there);
    }),
  );
});

it('tells another purpose and another script behind it', () => {
  const d = sweepDifference(
    [tracker('a'), tracker('b')],
    [tracker('a', { purpose: 'advertising' }), tracker('b', { cause: 'c.example/tag.js' })],
  );
  expect(d.purposes).toEqual([
    { tracker: expect.objectContaining({ name: 'a' }), before: 'measurement', after: 'advertising' },
  ]);
  expect(d.causes.map((c) => c.tracker.name)).toEqual(['b']);
  expect(isNoDifference(d)).toBe(false);
});

const nothing = sweepDifference([], []);
test.each([
  [nothing, 100, undefined, ''],
  [nothing, 100, 100, ''],
  [nothing, 61, 100, ''],
  [nothing, 12, 100, 'found 12 pages where 100 are usual'],
  [sweepDifference([], [tracker('a', { leaks: ['before'] })]), 9, 9, '1 new leak, 1 new tracker'],
  [sweepDifference([tracker('a', { leaks: ['before'] })], []), 9, 9, ''],
])('matters to the officer: %#', (difference, pages, usual, words) => {
  expect(whatMatters(difference, pages, usual)).toBe(words);
});
