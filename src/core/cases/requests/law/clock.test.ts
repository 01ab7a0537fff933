import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { dayAfter, lastDayOf } from '../../../retention/offers.ts';
import { REQUEST_KINDS, type RequestKind } from '../request.ts';
import { addDays, daysBetween, isWeekday, requestClock, type Pause } from './clock.ts';
import { findLaw, lawOf, REQUEST_LAWS } from './laws.ts';

const HOLIDAYS = new Set(['2026-12-25', '2026-12-26', '2026-04-03', '2026-04-06', '2027-01-01']);
const isWorkingDay = (day: string) => isWeekday(day) && !HOLIDAYS.has(day);
const clock = (
  law: string,
  received: string,
  more: {
    kind?: RequestKind;
    pauses?: readonly Pause[];
    extended?: string;
    answered?: string;
    today?: string;
  } = {},
) =>
  requestClock({
    ...{ law: findLaw(law), kind: more.kind ?? 'access', received, pauses: more.pauses ?? [] },
    ...{
      extended: more.extended ?? null,
      answered: more.answered ?? null,
      today: more.today ?? received,
      isWorkingDay,
    },
  });

describe('the last day to answer', () => {
  test.each<[string, string, string, string]>([
    ['gdpr', '2026-11-04', '2026-12-04', 'the day of the same number'],
    ['gdpr', '2026-01-31', '2026-03-02', 'the last of February, a Saturday, and so the Monday'],
    ['gdpr', '2026-01-30', '2026-03-02', 'the same'],
    ['gdpr', '2024-01-31', '2024-02-29', 'a leap day'],
    ['gdpr', '2026-11-25', '2026-12-28', 'Christmas, the day after, a weekend'],
    ['gdpr', '2026-03-03', '2026-04-07', 'Good Friday to Easter Monday'],
    ['gdpr', '2026-12-01', '2027-01-04', 'New Year and its weekend'],
    ['uk-gdpr', '2026-03-31', '2026-04-30', 'a month that is shorter'],
    ['ccpa', '2026-11-04', '2026-12-19', '45 days, a Saturday: the earlier day stands'],
    ['lgpd', '2026-11-04', '2026-11-19', '15 days'],
    ['fadp', '2026-11-04', '2026-12-04', '30 days'],
    ['quebec', '2026-11-04', '2026-12-04', '30 days'],
    ['nz', '2026-11-30', '2026-12-29', '20 working days, with a holiday among them'],
    ['us-ia', '2026-01-01', '2026-04-01', '90 days'],
  ])('of %s from %s is %s: %s', (law, received, end) => expect(clock(law, received).answerBy).toBe(end));

  test('not to be sold, in California, is 15 working days', () => {
    const c = clock('ccpa', '2026-11-30', { kind: 'no sale' });
    expect(c).toMatchObject({ answerBy: '2026-12-21', extendBy: null });
    expect(c.confirmBy).toBe('2026-12-14');
  });

  test('an extension counts from the request, and is none where it was told too late', () => {
    expect(clock('gdpr', '2026-01-31').extendedTo).toBe('2026-04-30');
    expect(clock('gdpr', '2026-11-04', { extended: '2026-12-04' })).toMatchObject({
      answerBy: '2027-02-04',
      isExtended: true,
    });
    expect(clock('gdpr', '2026-11-04', { extended: '2026-12-05', today: '2026-12-05' })).toMatchObject({
      ...{ answerBy: '2026-12-04', isExtended: false, isLate: true, daysLeft: -1 },
    });
    expect(clock('lgpd', '2026-11-04', { extended: '2026-11-05' })).toMatchObject({
      isExtended: false,
      extendedTo: null,
    });
  });

  test('a pause that the law knows moves it, another does not', () => {
    const pauses: Pause[] = [{ why: 'proof', from: '2026-11-06', to: '2026-11-16' }];
    expect(clock('gdpr', '2026-11-04', { pauses })).toMatchObject({ answerBy: '2026-12-14', pausedDays: 10 });
    expect(clock('ccpa', '2026-11-04', { pauses })).toMatchObject({ answerBy: '2026-12-19', pausedDays: 0 });
    const asked: Pause[] = [{ why: 'clarification', from: '2026-11-06', to: '2026-11-16' }];
    expect(clock('gdpr', '2026-11-04', { pauses: asked }).answerBy).toBe('2026-12-04');
    expect(clock('uk-gdpr', '2026-11-04', { pauses: asked }).answerBy).toBe('2026-12-14');
  });

  test('pauses that overlap count once, one that lasts until today, and one that begins after the end not at all', () => {
    const pauses: Pause[] = [
      { why: 'proof', from: '2026-11-06', to: '2026-11-16' },
      { why: 'proof', from: '2026-11-10', to: '2026-11-18' },
    ];
    expect(clock('gdpr', '2026-11-04', { pauses }).pausedDays).toBe(12);
    const lasting = clock('gdpr', '2026-11-04', {
      pauses: [{ why: 'proof', from: '2026-11-06', to: null }],
      today: '2026-11-26',
    });
    expect(lasting).toMatchObject({ isPaused: true, pausedDays: 20, answerBy: '2026-12-24', isLate: false });
    const after = clock('gdpr', '2026-11-04', {
      pauses: [{ why: 'proof', from: '2026-12-10', to: '2026-12-20' }],
      today: '2026-12-21',
    });
    expect(after).toMatchObject({ answerBy: '2026-12-04', pausedDays: 0, isLate: true });
  });

  test('what was answered is judged by the day of the answer', () => {
    expect(clock('gdpr', '2026-11-04', { answered: '2026-12-04', today: '2027-03-01' })).toMatchObject({
      isLate: false,
      daysLeft: 0,
    });
    expect(clock('gdpr', '2026-11-04', { answered: '2026-12-05', today: '2027-03-01' })).toMatchObject({
      isLate: true,
      daysLeft: -1,
    });
  });
});

const Day = fc
  .date({ min: new Date('2024-01-01'), max: new Date('2028-12-31'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));

describe('against a slow clock that walks day by day', () => {
  /** Counts days that pass outside of pauses; ends once there are enough. */
  function slow(law: string, received: string, pauses: readonly Pause[], today: string): string {
    const l = findLaw(law);
    const { count, unit } = l.answer;
    const known = pauses.filter((p) => l.pauses.includes(p.why));
    const stands = (day: string) => known.some((p) => day > p.from && day <= (p.to ?? today));
    const whole =
      unit === 'days'
        ? count
        : unit === 'months'
          ? daysBetween(received, lastDayOf(received, { count, unit }))
          : undefined;
    if (whole === undefined) throw new Error('by working days');
    let day = received;
    for (let passed = 0; ;) {
      if (passed === whole) {
        // It ends today, unless the day is one of rest; a pause may still begin on it.
        if (!l.movesToWorkingDay || isWorkingDay(day)) {
          if (!known.some((p) => p.from === day && (p.to ?? today) > day)) return day;
        } else if (!known.some((p) => p.from === day && (p.to ?? today) > day)) {
          let moved = day;
          let begins: Pause | undefined;
          while (!isWorkingDay(moved) && !begins) {
            moved = dayAfter(moved);
            begins = known.find((p) => p.from === moved && (p.to ?? today) > moved);
          }
          if (!begins) return moved;
          // A pause that begins on a day it was moved to adds its days to the end as it was.
          const until = begins.to ?? today;
          day = addDays(day, daysBetween(begins.from, until));
          known.splice(known.indexOf(begins), 1);
          continue;
        }
      }
      day = dayAfter(day);
      if (!stands(day)) passed++;
    }
  }

  const oneLaw = fc.constantFrom('gdpr', 'uk-gdpr', 'fadp', 'ccpa', 'lgpd');
  const onePause = fc.record({
    why: fc.constantFrom('proof' as const, 'clarification' as const),
    after: fc.integer({ min: 0, max: 25 }),
    days: fc.integer({ min: 0, max: 40 }),
  });

  it('ends on the same day', () => {
    fc.assert(
      fc.property(oneLaw, Day, fc.option(onePause, { nil: undefined }), (law, received, p) => {
        const from = p && addDays(received, p.after);
        const pauses: Pause[] =
          p && from !== undefined ? [{ why: p.why, from, to: addDays(from, p.days) }] : [];
        const today = addDays(received, 100);
        expect(clock(law, received, { pauses, today }).answerBy).toBe(slow(law, received, pauses, today));
      }),
    );
  });

  it('never ends on a day off where the law moves it, nor before the plain end; a pause never brings it nearer', () => {
    fc.assert(
      fc.property(fc.constantFrom(...REQUEST_LAWS.map((l) => l.id)), Day, onePause, (law, received, p) => {
        const from = addDays(received, p.after);
        const plain = clock(law, received);
        const paused = clock(law, received, {
          pauses: [{ why: p.why, from, to: addDays(from, p.days) }],
          today: addDays(received, 200),
        });
        expect(plain.answerBy > received).toBe(true);
        expect(paused.answerBy >= plain.answerBy).toBe(true);
        if (findLaw(law).movesToWorkingDay) expect(isWorkingDay(paused.answerBy)).toBe(true);
        if (plain.extendedTo !== null) expect(plain.extendedTo >= plain.answerBy).toBe(true);
      }),
    );
  });
});

describe('the law of where somebody is', () => {
  test.each([
    ['SE', 'gdpr'],
    ['GB', 'uk-gdpr'],
    ['US-CA', 'ccpa'],
    ['US-WY', 'elsewhere'],
    ['CA-QC', 'quebec'],
    ['CA-ON', 'pipeda'],
    ['ZZ', 'elsewhere'],
    ['KE', 'elsewhere'],
  ])('%s is that of %s', (region, law) => expect(lawOf(region).id).toBe(law));

  it('gives each right an article, and names each region once', () => {
    for (const law of REQUEST_LAWS)
      for (const [kind, article] of Object.entries(law.rights)) {
        expect(REQUEST_KINDS as readonly string[]).toContain(kind);
        expect(article).not.toBe('');
      }
    const all = REQUEST_LAWS.flatMap((l) => l.where);
    expect(new Set(all).size).toBe(all.length);
  });
});
