import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SHIPPED_REGIMES } from '../notice/regime.ts';
import { MADE_UP_LIST } from './made-up-list.ts';
import {
  basisHere,
  choiceFor,
  everythingOf,
  NOTHING_CHOSEN,
  tcOffer,
  withinOffer,
  type TcChoice,
} from './tc-offer.ts';
import { readTc, tcJudge, tcString } from './tc-string.ts';
import { askFirstRegions, firstTcf, tcfApplies, tcfFaults, TcfSettings, whyNotOn } from './tcf-settings.ts';
import { RESTRICTIONS, TCF_PURPOSES } from './tcf-purposes.ts';
import { VendorList } from './vendor-list.ts';

const ASKED = ['preferences', 'measurement', 'advertising'];
const settings = { ...firstTcf(Object.keys(MADE_UP_LIST.vendors).map(Number), ASKED), cmpId: 300 };
const at = new Date('2026-11-30T22:15:07Z');
const made = (over: Partial<Parameters<typeof tcString>[0]> = {}) =>
  tcString({
    ...{ list: MADE_UP_LIST, settings, asked: ASKED, layer: 'second', at },
    choice: everythingOf(tcOffer(MADE_UP_LIST, settings, ASKED)),
    ...over,
  });

const restrictions = fc.dictionary(
  fc.constantFrom(...TCF_PURPOSES.map(String)),
  fc.constantFrom(...RESTRICTIONS),
);
const picks = fc.record({
  purposes: fc.subarray([...TCF_PURPOSES]),
  interests: fc.subarray([...TCF_PURPOSES]),
  specialFeatures: fc.subarray([1, 2]),
  vendors: fc.subarray([2, 5, 8, 13, 21, 34, 99]),
  vendorInterests: fc.subarray([2, 5, 8, 13, 21, 34, 99]),
});

describe('a vendor list', () => {
  it('that ships is of the standard’s shape, and one with a number of another is none', () => {
    expect(VendorList.parse(JSON.parse(JSON.stringify(MADE_UP_LIST)))).toEqual(MADE_UP_LIST);
    const wrong = { ...MADE_UP_LIST, vendors: { '3': MADE_UP_LIST.vendors['2'] } };
    expect(VendorList.safeParse(wrong).error?.issues[0]?.message).toBe('Vendor 3 has the number 2.');
    expect(VendorList.safeParse({ ...MADE_UP_LIST, gvlSpecificationVersion: 2 }).success).toBe(false);
  });
});

describe('what a vendor rests a purpose on', () => {
  const flexible = { purposes: [2], legIntPurposes: [7], flexiblePurposes: [2, 7] };
  const fixed = { ...flexible, flexiblePurposes: [] };
  it.each([
    [flexible, 2, 'as declared', 'consent'],
    [flexible, 7, 'as declared', 'interest'],
    [flexible, 7, 'consent only', 'consent'],
    [flexible, 2, 'interest only', 'interest'],
    [fixed, 7, 'consent only', undefined],
    [fixed, 2, 'interest only', undefined],
    [fixed, 2, 'consent only', 'consent'],
    [fixed, 7, 'interest only', 'interest'],
    [flexible, 2, 'never', undefined],
    [flexible, 9, 'as declared', undefined],
    // A list that claims an interest where the framework leaves none.
    [{ ...fixed, legIntPurposes: [3] }, 3, 'as declared', undefined],
  ] as const)('of %j, purpose %i, %s: %s', (vendor, purpose, restriction, basis) => {
    expect(
      basisHere(
        {
          ...vendor,
          purposes: [...vendor.purposes],
          legIntPurposes: [...vendor.legIntPurposes],
          flexiblePurposes: [...vendor.flexiblePurposes],
        },
        purpose,
        restriction,
      ),
    ).toBe(basis);
  });
});

describe('a TC string', () => {
  it('says what was chosen, and no time finer than a day', () => {
    const read = readTc(made());
    expect(read).toMatchObject({
      ...{ cmpId: 300, listVersion: 1, policyVersion: 4, serviceSpecific: true },
      ...{ publisherCountry: 'DK', language: 'en', day: '2026-11-30', restrictions: [] },
    });
    expect(read?.purposes).toEqual([...TCF_PURPOSES]);
    expect(readTc(made({ at: new Date('2026-11-30T01:00:00Z') }))).toEqual(read);
    expect(made({ at: new Date('2026-11-30T01:00:00Z') })).toBe(made());
  });

  it('that refuses has nothing, and none of one’s own purposes brings what it does not cover', () => {
    const read = readTc(made({ choice: NOTHING_CHOSEN }));
    for (const part of ['purposes', 'interests', 'vendors', 'vendorInterests', 'specialFeatures'] as const)
      expect(read?.[part], part).toEqual([]);
    const offer = tcOffer(MADE_UP_LIST, settings, ASKED);
    const some = readTc(made({ choice: choiceFor(offer, settings, ['measurement']) }));
    expect(some?.purposes).toEqual([8, 9, 10]);
    expect(some?.specialFeatures).toEqual([]);
  });

  it('holds just what was offered of what was chosen, whatever the restrictions', () => {
    fc.assert(
      fc.property(restrictions, picks, (said, choice: TcChoice) => {
        const own = { ...settings, restrictions: said };
        const offer = tcOffer(MADE_UP_LIST, own, ASKED);
        const read = readTc(made({ settings: own, choice }));
        const wanted = withinOffer(offer, choice);
        for (const part of Object.keys(wanted) as (keyof TcChoice)[])
          expect(read?.[part]).toEqual(wanted[part]);
      }),
      { numRuns: 60 },
    );
  });

  it('made here has no faults for the choice it belongs to', () => {
    fc.assert(
      fc.property(restrictions, fc.subarray(ASKED), (said, allowed) => {
        const own = { ...settings, restrictions: said };
        const choice = choiceFor(tcOffer(MADE_UP_LIST, own, ASKED), own, allowed);
        const text = made({ settings: own, choice });
        expect(tcJudge({ list: MADE_UP_LIST, settings: own, asked: ASKED })(text, allowed)).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it.each([
    ['nonsense', 'This is no TC string.'],
    ['A'.repeat(40), 'This is no TC string.'],
    [made({ settings: { ...settings, cmpId: 301 } }), 'It is of CMP 301, and not 300.'],
    [made({ settings: { ...settings, publisherCountry: 'SE' } }), 'It names SE as the publisher’s country.'],
    [
      made({ settings: { ...settings, restrictions: { '7': 'never' } } }),
      'Its publisher restrictions are not those of this site.',
    ],
  ])('%s is refused: %s', (text, why) => {
    expect(tcJudge({ list: MADE_UP_LIST, settings, asked: ASKED })(text, ASKED)).toContain(why);
  });

  it('that allows more than the choice it came with, or vendors that nobody was asked for, is refused', () => {
    const judge = (own: typeof settings, allowed: readonly string[]) =>
      tcJudge({ list: MADE_UP_LIST, settings: own, asked: ASKED })(made(), allowed);
    expect(judge(settings, ['measurement'])).toContain('It allows a purpose that the choice does not.');
    expect(judge({ ...settings, vendors: [2, 5] }, ASKED)).toContain(
      'It has vendors that nobody was asked for.',
    );
  });
});

describe('settings', () => {
  it('begin whole, with nothing that stands by itself', () => {
    expect(TcfSettings.safeParse(settings).success).toBe(true);
    expect(settings.interests).toBe('off');
    expect(tcfFaults(settings, ASKED, MADE_UP_LIST, SHIPPED_REGIMES)).toEqual([]);
  });

  it('may not let interests stand where the law asks first, and says where and by which law', () => {
    const on = tcfFaults({ ...settings, interests: 'on' }, ASKED, MADE_UP_LIST, SHIPPED_REGIMES);
    expect(on[0]?.message).toMatch(/^In EEA and GB the law asks first: .*art\. 5\(3\)/);
    const elsewhere = SHIPPED_REGIMES.map((r) =>
      ['EEA', 'GB', 'CH'].includes(r.code) ? { ...r, regime: 'on unless refused' as const } : r,
    );
    expect(askFirstRegions(elsewhere)).toEqual([]);
    expect(whyNotOn(elsewhere)).toBeUndefined();
    expect(tcfFaults({ ...settings, interests: 'on' }, ASKED, MADE_UP_LIST, elsewhere)).toEqual([]);
  });

  it('may not rest on an interest what the framework leaves to consent, nor name vendors that are none', () => {
    const faults = tcfFaults(
      { ...settings, restrictions: { '3': 'interest only', '7': 'interest only' }, vendors: [2, 77] },
      ASKED,
      MADE_UP_LIST,
      SHIPPED_REGIMES,
    ).map((f) => f.message);
    expect(faults[0]).toMatch(/^Purpose 3 rests on consent alone/);
    expect(faults[1]).toBe('The vendor list has no vendor 77: take it out.');
    expect(faults).toHaveLength(2);
    expect(tcfFaults({ ...settings, covers: {} }, ASKED, MADE_UP_LIST, SHIPPED_REGIMES)).toHaveLength(1);
  });

  it('apply where the law does', () => {
    expect([
      tcfApplies('DK'),
      tcfApplies('GB'),
      tcfApplies('ZZ'),
      tcfApplies('US-CA'),
      tcfApplies('BR'),
    ]).toEqual([true, true, true, false, false]);
  });
});
