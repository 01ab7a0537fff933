import { expect, it } from 'vitest';
import fc from 'fast-check';
import { isNoDifference, sweepDifference, type SweptTracker } from './sweep-difference.ts';

const tracker = (name: string, over: Partial<SweptTracker> = {}): SweptTracker => ({
  kind: 'cookie',
  name,
  host: 'a.example',
  purpose: 'measurement',
  lifetime: 30 * 86400,
  leaks: [],
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
      expect(there.added).toEqual(back.gone);
      expect(there.leaksNow).toEqual(back.leaksNoMore);
    }),
  );
});
