import { describe, expect, it } from 'vitest';
import { correct, fits, keepCorrections, NoticeReading, wayOf, wordsOf } from './notice-reading.ts';
import { press, READING, set } from './notice-reading.fixture.ts';

describe('a notice as it was read', () => {
  it('keeps to its own shape', () => {
    expect(NoticeReading.parse(JSON.parse(JSON.stringify(READING)))).toEqual(READING);
  });

  it('offers a way for each choice, with the switches on whose purposes are allowed', () => {
    expect(wayOf(READING, 'refuse', [])).toEqual([press('Maybe later')]);
    expect(wayOf(READING, 'choose', ['measurement', 'advertising'])).toEqual([
      press('Pick'),
      set('Newsroom'),
      press('Save these'),
    ]);
    expect(wayOf(READING, 'choose', [])?.[1]).toEqual(set());
    expect(wayOf({ ...READING, roles: { ...READING.roles, refuse: null } }, 'refuse', [])).toBeNull();
  });

  it('fits the notice while that has the same controls, in any order', () => {
    expect(fits(READING, ['Pick', 'Maybe later', 'Sounds good'])).toBe(true);
    expect(fits(READING, ['Pick', 'Sounds good'])).toBe(false);
    expect(fits(READING, ['Pick', 'Maybe later', 'Sounds good', 'Sounds good'])).toBe(false);
  });

  it('names the words that nobody is to press by chance', () => {
    expect(wordsOf(READING)).toEqual(['Sounds good', 'Maybe later', 'Pick', 'Save these']);
  });

  it('is corrected to one of the ways that were tried, and for its own switches', () => {
    const now = correct(READING, { roles: { refuse: 3 }, switches: { Corner: 'preferences' } });
    expect(now?.roles.refuse).toEqual({ way: READING.tried[3]?.way, why: 'Somebody said so', by: 'person' });
    expect(now?.switches[1]).toMatchObject({ purpose: 'preferences', by: 'person' });
    expect(now?.roles.accept).toEqual(READING.roles.accept);
  });

  it.each([
    ['a way that was not tried', { roles: { refuse: 9 } }],
    ['a choice of one’s own without switches', { roles: { choose: 0 } }],
    ['a switch that is not there', { switches: { Elsewhere: 'advertising' } }],
  ])('is not corrected to %s', (_what, correction) => {
    expect(correct(READING, correction)).toBeUndefined();
  });

  it('keeps what somebody said when it is read anew, as far as that is still there', () => {
    const said = correct(READING, { roles: { refuse: 3, accept: 1 }, switches: { Corner: 'preferences' } });
    const anew = {
      ...READING,
      readAt: '2026-11-30T10:00:00.000Z',
      tried: READING.tried.filter((t) => t.way[0]?.act !== 'press' || t.way[0].words !== 'Maybe later'),
    };
    const kept = keepCorrections(said as NoticeReading, anew);
    expect(kept.readAt).toBe(anew.readAt);
    expect(kept.roles.refuse?.by).toBe('person');
    // That way is gone.
    expect(kept.roles.accept).toEqual(READING.roles.accept);
    expect(kept.switches.map((s) => s.purpose)).toEqual(['measurement', 'preferences', null]);
  });
});
