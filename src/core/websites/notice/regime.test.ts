import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { permission } from '../trackers/leak.ts';
import { FIRST_PURPOSES } from './purpose.ts';
import {
  asksFirst,
  mayRefuse,
  refusedBySignal,
  REGIMES,
  regimeOf,
  RegimeRow,
  regimeTable,
  SHIPPED_REGIMES,
  startsOn,
  sweepRegions,
} from './regime.ts';
import { REGION_PATTERN } from './region.ts';

const [essential, preferences, measurement, advertising] = FIRST_PURPOSES as [
  (typeof FIRST_PURPOSES)[0],
  (typeof FIRST_PURPOSES)[0],
  (typeof FIRST_PURPOSES)[0],
  (typeof FIRST_PURPOSES)[0],
];
const row = (over: Partial<RegimeRow>): RegimeRow => ({
  ...{ code: 'XX', regime: 'on unless refused', law: 'an act', starts: {}, signal: false, months: null },
  ...over,
});

describe('the regimes that ship', () => {
  it('are sound, each region once, with the law behind it', () => {
    for (const r of SHIPPED_REGIMES) expect(RegimeRow.parse(r)).toEqual(r);
    expect(new Set(SHIPPED_REGIMES.map((r) => r.code)).size).toBe(SHIPPED_REGIMES.length);
  });

  test.each([
    ['DK', 'EEA', 'ask first'],
    ['NO', 'EEA', 'ask first'],
    ['DE-BY', 'EEA', 'ask first'],
    ['GB', 'GB', 'ask first'],
    ['CA', 'CA', 'on unless refused'],
    ['CA-ON', 'CA', 'on unless refused'],
    ['CA-QC', 'CA-QC', 'ask first'],
    ['US-CA', 'US-CA', 'on unless refused'],
    ['US-WY', 'US', 'on unless refused'],
    ['AU', 'AU', 'inform only'],
    ['JP', 'ZZ', 'ask first'],
    ['ZZ', 'ZZ', 'ask first'],
  ])('%s falls under %s: %s', (region, code, regime) => {
    expect(regimeOf(region)).toMatchObject({ code, regime });
  });

  it('offer a sweep every region that has a law of its own', () => {
    expect(sweepRegions().every((r) => REGION_PATTERN.test(r))).toBe(true);
    expect(sweepRegions()).toEqual(expect.arrayContaining(['DK', 'CA-QC', 'US-MD']));
  });
});

describe('what an organisation says', () => {
  it('stands in the place of what ships, and its own regions before the rest', () => {
    const own = [
      row({ code: 'EEA', law: 'ours' }),
      row({ code: 'JP', regime: 'inform only' }),
      row({ code: 'DK', law: 'of Denmark' }),
    ];
    const table = regimeTable(own);
    expect(regimeOf('SE', table).law).toBe('ours');
    expect(regimeOf('DK', table).law).toBe('of Denmark');
    expect(regimeOf('JP', table).regime).toBe('inform only');
    expect(table.at(-1)?.code).toBe('ZZ');
    expect(table).toHaveLength(SHIPPED_REGIMES.length + 2);
  });

  it('cannot let anything run before it is asked for where the law asks first', () => {
    const fails = RegimeRow.safeParse(row({ regime: 'ask first', starts: { measurement: 'on' } }));
    expect(fails.error?.issues).toMatchObject([{ path: ['starts'] }]);
    expect(RegimeRow.safeParse(row({ starts: { advertising: 'off' } })).success).toBe(true);
  });
});

describe('how a purpose starts', () => {
  test.each([
    ['ask first', {}, [true, false, false, false], true],
    ['on unless refused', {}, [true, true, true, true], false],
    ['on unless refused', { advertising: 'off' }, [true, true, true, false], true],
    ['inform only', {}, [true, true, true, true], false],
    ['nothing', { measurement: 'off', essential: 'off' }, [true, true, false, true], true],
  ] as const)('%s with %o', (regime, starts, on, asked) => {
    const r = row({ regime, starts });
    expect(FIRST_PURPOSES.map((p) => startsOn(r, p))).toEqual(on);
    expect(asksFirst(r, FIRST_PURPOSES)).toBe(asked);
  });

  it('is refused by the signal where that counts, if it sells or shares', () => {
    expect(refusedBySignal(row({ signal: true }), FIRST_PURPOSES)).toEqual(['advertising']);
    expect(refusedBySignal(row({}), FIRST_PURPOSES)).toEqual([]);
  });

  it('may be refused where the law asks, or the organisation does; never the essential', () => {
    expect(mayRefuse(row({}), measurement)).toBe(true);
    expect(mayRefuse(row({ regime: 'inform only' }), measurement)).toBe(false);
    expect(mayRefuse(row({ regime: 'inform only', starts: { measurement: 'off' } }), measurement)).toBe(true);
    expect(mayRefuse(row({ regime: 'ask first' }), essential)).toBe(false);
  });

  it('is what a sweep judges by: before a choice just what starts on is permitted', () => {
    const any = fc.record({
      regime: fc.constantFrom(...REGIMES.filter((r) => r !== 'ask first')),
      starts: fc.dictionary(
        fc.constantFrom('preferences', 'measurement', 'advertising'),
        fc.constantFrom('on', 'off'),
      ),
      signal: fc.boolean(),
    });
    fc.assert(
      fc.property(any, fc.constantFrom(preferences, measurement, advertising), (over, purpose) => {
        const regime = row(over as Partial<RegimeRow>);
        const terms = { region: 'XX', regime, chosen: [] };
        const may = (visitor: 'before' | 'refused' | 'gpc') => permission(purpose, visitor, terms).permitted;
        expect(may('before')).toBe(startsOn(regime, purpose));
        expect(may('refused')).toBe(!mayRefuse(regime, purpose));
        const signalled = refusedBySignal(regime, [purpose]).length > 0 && mayRefuse(regime, purpose);
        expect(may('gpc')).toBe(startsOn(regime, purpose) && !signalled);
      }),
    );
  });
});
