import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  getsNothing,
  NO_PREFERENCE,
  preferenceAct,
  preferenceDigest,
  settledPreference,
  type PreferenceReceipt,
} from './preference-receipt.ts';

const ASKED = { channels: ['email', 'sms', 'post'], topics: ['news', 'offers'] };
const YES = { channels: ['email'], topics: ['news'] };
const MORE = { channels: ['email', 'sms'], topics: ['news'] };
const sets = fc.record({ channels: fc.subarray(ASKED.channels), topics: fc.subarray(ASKED.topics) });

describe('what somebody chose', () => {
  it.each([
    ['first', undefined, YES],
    ['left', undefined, NO_PREFERENCE],
    ['repeated', YES, YES],
    ['repeated', { channels: ['sms', 'email'], topics: ['news'] }, MORE],
    ['changed', YES, MORE],
    ['left', YES, NO_PREFERENCE],
    ['repeated', NO_PREFERENCE, NO_PREFERENCE],
    ['came back', NO_PREFERENCE, YES],
  ] as const)('is “%s” after %j', (act, before, now) => {
    expect(preferenceAct(before, now)).toBe(act);
  });

  it('leaves a way open only where there is something to tell by it, and the other way round', () => {
    fc.assert(
      fc.property(sets, (said) => {
        const settled = settledPreference(ASKED, said);
        expect(settled.channels.length === 0).toBe(settled.topics.length === 0);
        expect(getsNothing(settled)).toBe(getsNothing(said));
        if (!getsNothing(said)) expect(settled).toEqual(said);
      }),
    );
  });

  it('takes nothing that was not asked', () => {
    const wider = { channels: ['email', 'fax', 'email'], topics: ['news', 'weather'] };
    expect(settledPreference(ASKED, wider)).toEqual(YES);
  });

  it('has a digest that any change of the receipt changes', () => {
    const receipt: PreferenceReceipt = {
      ...{ id: '0190', at: '2026-03-01T10:00:00.000Z', person: 'ab'.repeat(16), page: 1, asked: ASKED },
      ...{ ...YES, act: 'first', by: 'link', reason: '', language: 'en' },
    };
    const digest = preferenceDigest(receipt);
    for (const change of [{ page: 2 }, { topics: [] }, { reason: 'x' }, { by: 'list' }, { language: 'da' }])
      expect(preferenceDigest({ ...receipt, ...change } as PreferenceReceipt)).not.toBe(digest);
    expect(preferenceDigest({ ...receipt })).toBe(digest);
  });
});
