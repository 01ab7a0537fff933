import { describe, expect, it } from 'vitest';
import { control, framework } from '../framework/framework.fixture.ts';
import { comingAlong, type WorkOfCycles } from './coming-along.ts';
import { NEW_WORK, type MeasureWork } from './measure-work.ts';

const DAY = '2026-11-30';
const PASSED: MeasureWork = { ...NEW_WORK, state: 'done', test: 'passed' };
const FRAMEWORK = framework([control('a', ['m', 'n']), control('b', ['m'])]);
const of = (
  work: Record<number, Record<string, Partial<MeasureWork>>>,
  evidence: Record<number, Record<string, string>> = {},
): WorkOfCycles => ({
  day: DAY,
  work: new Map(
    Object.entries(work).map(([cycle, measures]) => [
      Number(cycle),
      new Map(Object.entries(measures).map(([m, w]) => [m, { ...PASSED, ...w }])),
    ]),
  ),
  evidence: new Map(Object.entries(evidence).map(([c, e]) => [Number(c), new Map(Object.entries(e))])),
});
const along = (cycles: WorkOfCycles, into: number | null, testsItself = (_: string) => false) =>
  comingAlong(cycles, FRAMEWORK, into, testsItself).map((a) => `${a.measure} of ${a.cycle}`);

describe('what comes along into a cycle', () => {
  it.each<[string, Partial<MeasureWork>, string | undefined, readonly string[]]>([
    ['passed', {}, undefined, ['m of 1']],
    ['passed, its evidence good for today still', {}, DAY, ['m of 1']],
    ['passed, its evidence past its date', {}, '2026-11-29', []],
    ['failed', { test: 'failed' }, undefined, []],
    ['not tested', { test: null }, undefined, []],
    ['not applicable', { state: 'not applicable', reason: 'No.' }, undefined, []],
  ])('is what holds: %s', (_, work, until, found) => {
    expect(along(of({ 1: { m: work } }, until === undefined ? {} : { 1: { m: until } }), 2)).toEqual(found);
  });

  it('is of the latest cycle in which it holds', () => {
    expect(along(of({ 1: { m: {}, n: {} }, 3: { m: {}, n: { test: 'failed' } } }), null)).toEqual([
      'm of 3',
      'n of 1',
    ]);
  });

  it('leaves alone what was begun there, what tests itself, and what the framework does not ask for', () => {
    const cycles = of({ 1: { m: {}, n: {}, other: {} }, 2: { m: { state: 'in work', test: null } } });
    expect(along(cycles, 2)).toEqual(['n of 1']);
    expect(along(cycles, 2, (m) => m === 'n')).toEqual([]);
    expect(along(cycles, 1)).toEqual([]);
  });
});
