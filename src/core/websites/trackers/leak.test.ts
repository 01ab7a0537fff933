import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { judge, judgeAll, leakingVisitors, permission } from './leak.ts';
import { FIRST_PURPOSES } from '../notice/purpose.ts';
import { regimeOf, sweepRegions } from '../notice/regime.ts';
import { sighting } from './tracker.fixture.ts';
import { VISITORS } from './visitor.ts';

const [essential, , measurement, advertising] = FIRST_PURPOSES;
const terms = (region: string, chosen: readonly string[] = ['measurement']) => ({ region, chosen });

describe('who leaks, by the law of a region', () => {
  test.each([
    ['DK', measurement, ['before', 'refused', 'gpc']],
    ['DK', advertising, ['before', 'refused', 'chosen', 'gpc']],
    ['GB', measurement, ['before', 'refused', 'gpc']],
    ['ZZ', measurement, ['before', 'refused', 'gpc']],
    ['US-CA', measurement, ['refused']],
    ['US-CA', advertising, ['refused', 'chosen', 'gpc']],
    ['US', advertising, ['refused', 'chosen']],
    ['CH', advertising, ['refused', 'chosen']],
    ['AU', advertising, []],
    ['DK', essential, []],
    ['DK', null, ['before', 'refused', 'chosen', 'gpc']],
  ] as const)('%s, %o: not for %o', (region, purpose, visitors) => {
    const forbidden = VISITORS.filter((v) => !permission(purpose ?? null, v, terms(region)).permitted);
    expect(forbidden).toEqual(visitors);
  });

  it('names the law with every leak, and never calls Essential one', () => {
    const any = fc.record({
      region: fc.constantFrom(...sweepRegions()),
      purpose: fc.constantFrom(...FIRST_PURPOSES, null),
      visitor: fc.constantFrom(...VISITORS),
      chosen: fc.subarray(['preferences', 'measurement', 'advertising']),
    });
    fc.assert(
      fc.property(any, ({ region, purpose, visitor, chosen }) => {
        const verdict = judge(purpose, sighting({ visitor }), { region, chosen });
        if (verdict.verdict === 'leak') expect(verdict.law).toBe(regimeOf(region).law);
        if (purpose?.essential || visitor === 'accepted') expect(verdict.verdict).not.toBe('leak');
        const { permitted } = permission(purpose, visitor, { region, chosen });
        expect(verdict.verdict === 'leak').toBe(!permitted && purpose !== null);
      }),
    );
  });
});

describe('a verdict', () => {
  const dk = terms('DK');
  test.each([
    ['not seen', measurement, undefined, 1, 'not seen'],
    ['an attempt that the browser refused', measurement, sighting({ refused: 'csp' }), 1, 'attempt'],
    ['an attempt where it may', essential, sighting({ refused: 'csp' }), 1, 'allowed'],
    ['no purpose, perhaps essential', null, sighting(), 0.5, 'presumed leak'],
    ['no purpose, nearly surely essential', null, sighting(), 0.99, 'presumed leak'],
    ['no purpose, hardly essential', null, sighting(), 0.05, 'leak'],
    ['no purpose, all allowed', null, sighting({ visitor: 'accepted' }), 0.05, 'unsorted'],
  ] as const)('%s', (_words, purpose, seen, share, verdict) => {
    expect(judge(purpose ?? null, seen, dk, share).verdict).toBe(verdict);
  });

  it('of what has no purpose says how likely it is that it is essential, and by which law that counts', () => {
    expect(judge(null, sighting(), dk, 0.4)).toMatchObject({
      why: expect.stringContaining('unless it is essential, which is 40% likely'),
      law: regimeOf('DK').law,
    });
    // Where the law lets it run until refused, only a refusal makes it one.
    const us = terms('US');
    expect(judge(null, sighting(), us, 0.4).verdict).toBe('unsorted');
    expect(judge(null, sighting({ visitor: 'refused' }), us, 0.4).verdict).toBe('presumed leak');
  });

  it('is told for each visitor that was tried, and for no other', () => {
    const all = judgeAll(measurement ?? null, [sighting()], ['before', 'accepted'], dk);
    expect(Object.keys(all)).toEqual(['before', 'accepted']);
    expect(leakingVisitors(measurement ?? null, [sighting(), sighting({ visitor: 'accepted' })], dk)).toEqual(
      ['before'],
    );
  });
});
