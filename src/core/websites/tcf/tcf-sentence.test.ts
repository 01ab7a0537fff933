import { describe, expect, it } from 'vitest';
import { change, inWords, type Json } from '../../rules/change.ts';
import { fillSlot, sentenceText, slotsOf, slotValue } from '../../rules/sentence.ts';
import { asksTheSame } from '../notice/asks-the-same.ts';
import { firstNotice, NoticeContent } from '../notice/notice.ts';
import { noticeVocabulary } from '../notice/notice-sentence.ts';
import { SHIPPED_REGIMES } from '../notice/regime.ts';
import { MADE_UP_LIST } from './made-up-list.ts';
import { tcfSentence } from './tcf-sentence.ts';

const NAMES = {
  vendors: Object.values(MADE_UP_LIST.vendors),
  purposes: Object.values(MADE_UP_LIST.purposes),
  own: ['preferences', 'measurement', 'advertising'].map((code) => ({
    ...{ code, name: code, essential: false, shares: false },
  })),
  regimes: SHIPPED_REGIMES,
};
const off = firstNotice();
const slotOf = (content: NoticeContent, label: string) => {
  const slot = slotsOf(tcfSentence(content, NAMES)).find((s) => s.label.startsWith(label));
  if (!slot) throw new Error(label);
  return slot;
};
const on = fillSlot(off, slotOf(off, 'Whether'), 'on');

describe('part in the framework', () => {
  it('is taken by one word, and given up by one', () => {
    expect(NoticeContent.safeParse(on).success).toBe(true);
    expect(on.tcf?.vendors).toEqual([2, 5, 8, 13, 21, 34]);
    expect(fillSlot(on, slotOf(on, 'Whether'), 'off')).toEqual(off);
    expect(
      inWords(change(off as unknown as Json, on as unknown as Json), noticeVocabulary(NAMES.own)),
    ).toEqual(['Part in the framework: none → as CMP 2, with 6 vendors']);
    expect(tcfSentence(off, NAMES)).toHaveLength(1);
  });

  it('reads and writes numbers as its slots hold words', () => {
    const vendors = slotOf(on, 'Vendors');
    expect(slotValue(vendors, on)).toEqual(['2', '5', '8', '13', '21', '34']);
    const fewer = fillSlot(on, vendors, ['13', '2']);
    expect(fewer.tcf?.vendors).toEqual([2, 13]);
    const covers = slotOf(on, 'Purposes of the framework that go with measurement');
    expect(fillSlot(on, covers, ['9']).tcf?.covers).toMatchObject({
      measurement: [9],
      advertising: [1, 2, 3, 4, 7],
    });
    const basis = slotOf(on, 'On what vendors may rest 7');
    const never = fillSlot(on, basis, 'never');
    expect(never.tcf?.restrictions).toEqual({ '7': 'never' });
    expect(
      fillSlot(never, slotOf(never, 'On what vendors may rest 7'), 'as declared').tcf?.restrictions,
    ).toEqual({});
    expect(
      inWords(change(on as unknown as Json, never as unknown as Json), noticeVocabulary(NAMES.own)),
    ).toEqual(['Basis of the framework’s purpose 7: never added']);
    expect(sentenceText(tcfSentence(on, NAMES), on)).toContain('Lanternfish Ads, Wavemeter Audience');
  });

  it('shows what the law forbids, with why it cannot be chosen', () => {
    const options = (label: string) => {
      const { editor } = slotOf(on, label);
      return editor.kind === 'choice' ? editor.options : [];
    };
    expect(options('How legitimate interests begin').find((o) => o.value === 'on')?.whyNot).toMatch(
      /law asks first/,
    );
    expect(options('How legitimate interests begin').find((o) => o.value === 'off')?.whyNot).toBeUndefined();
    expect(options('On what vendors may rest 3').find((o) => o.value === 'interest only')?.whyNot).toMatch(
      /consent alone/,
    );
    expect(options('On what vendors may rest 7').every((o) => o.whyNot === undefined)).toBe(true);
  });
});

describe('an answer', () => {
  const vendors = (ids: readonly number[]) => ({ ...on, tcf: { ...on.tcf!, vendors: [...ids] } });
  it.each([
    ['the same', on, on, true],
    ['a vendor less', on, vendors([2, 5]), true],
    ['a vendor more', vendors([2, 5]), on, false],
    ['the framework', off, on, false],
    ['no framework any more', on, off, false],
    ['another purpose', off, { ...off, purposes: ['measurement'] }, false],
    ['another order', off, { ...off, purposes: off.purposes.toReversed() }, true],
    ['another basis', on, { ...on, tcf: { ...on.tcf!, restrictions: { '7': 'never' as const } } }, false],
  ])('holds for a notice with %s: %#', (_what, older, newer, holds) => {
    expect(asksTheSame(older, newer)).toBe(holds);
  });
});
