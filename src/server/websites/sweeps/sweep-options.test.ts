import { describe, expect, it } from 'vitest';
import { chosenPurposes, sweepExit } from './sweep-command.ts';

const visitor = (more: object = {}) =>
  ({ tried: true, incomplete: false, ...more }) as Parameters<typeof sweepExit>[0]['visitors'][number];
const exit = (leaks: number, ...visitors: readonly object[]) =>
  sweepExit({
    counts: { pages: 1, trackers: 1, leaks, presumed: 0, unsorted: 0, attempts: 0 },
    visitors: visitors.map(visitor),
  });

describe('a sweep from the command line', () => {
  it.each<[string, number, number]>([
    ['all tried, nothing leaks', exit(0, {}, {}), 0],
    ['something leaks', exit(2, {}, {}), 1],
    ['somebody could not be tried', exit(0, {}, { tried: false }), 3],
    ['somebody’s time ended', exit(0, {}, { incomplete: true }), 3],
    ['something leaks, and somebody could not be tried', exit(1, { tried: false }), 1],
  ])('where %s', (_, code, expected) => expect(code).toBe(expected));

  it('takes purposes by code or name, in any case, and refuses what is none', () => {
    expect(chosenPurposes('Measurement, ADVERTISING')).toEqual(['measurement', 'advertising']);
    expect(chosenPurposes('')).toEqual([]);
    expect(() => chosenPurposes('measurement,marketing')).toThrow(
      /--chosen takes some of .*“marketing” is none/,
    );
  });
});
