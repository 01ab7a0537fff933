import fc from 'fast-check';
import { expect, it } from 'vitest';
import { labelledChange, scoreLabelled, type Span } from './labelled.ts';

const span = (start: number, end: number): Span => ({ start, end });

it('counts a finding as right where it and a mark share most of the longer', () => {
  const score = scoreLabelled([
    { marks: [span(0, 10), span(20, 30)], found: [span(0, 9), span(24, 60)] },
    { marks: [], found: [span(3, 8)] },
  ]);
  expect(score.cases.map((c) => [c.text, c.start, c.what])).toEqual([
    [0, 0, 'right'],
    [0, 20, 'missed'],
    [0, 24, 'false alarm'],
    [1, 3, 'false alarm'],
  ]);
  expect([score.right, score.falseAlarms, score.missed]).toEqual([1, 2, 1]);
  expect(score.precision?.share).toBeCloseTo(1 / 3);
  expect(score.recall?.share).toBe(0.5);
});

it('finds each mark once', () => {
  const score = scoreLabelled([{ marks: [span(0, 10)], found: [span(0, 10), span(0, 9)] }]);
  expect([score.right, score.falseAlarms]).toEqual([1, 1]);
});

it('has no rate where there was nothing to count', () => {
  const score = scoreLabelled([{ marks: [], found: [] }]);
  expect([score.precision, score.recall]).toEqual([null, null]);
});

it('tells what a change gained and lost', () => {
  const marks = [span(0, 4), span(10, 14)];
  const before = scoreLabelled([{ marks, found: [span(0, 4), span(20, 24)] }]);
  const after = scoreLabelled([{ marks, found: [span(10, 14), span(30, 34)] }]);
  const change = labelledChange(before, after);
  expect(change.gained).toMatchObject([{ start: 10 }]);
  expect(change.lost).toMatchObject([{ start: 0 }]);
  expect(change.newAlarms).toMatchObject([{ start: 30 }]);
  expect(change.alarmsGone).toMatchObject([{ start: 20 }]);
});

const spans = fc
  .array(fc.tuple(fc.nat(60), fc.integer({ min: 1, max: 9 })), { maxLength: 8 })
  .map((all) => all.map(([start, n]) => span(start, start + n)));

it('always accounts for every finding and every mark', () => {
  fc.assert(
    fc.property(spans, spans, (marks, found) => {
      const s = scoreLabelled([{ marks, found }]);
      expect(s.right + s.falseAlarms).toBe(found.length);
      expect(s.right + s.missed).toBe(marks.length);
      const same = labelledChange(s, s);
      expect(same).toEqual({ gained: [], lost: [], newAlarms: [], alarmsGone: [] });
    }),
  );
});
