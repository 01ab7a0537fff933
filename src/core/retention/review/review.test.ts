import { describe, expect, it } from 'vitest';
import { dayAfter } from '../clock/period.ts';
import { reminderOf, REMIND_EVERY, reviewDue, ReviewInput } from './review.ts';

describe('the yearly review of a rule', () => {
  it.each([
    ['2025-11-29', '2026-11-30'],
    ['2024-02-29', '2025-03-01'],
    ['2023-12-31', '2025-01-01'],
  ])('after %s is due on %s', (since, due) => expect(reviewDue(since)).toBe(due));

  it.each([
    ['2026-01-01', undefined],
    ['2026-10-31', undefined],
    ['2026-11-01', 30],
    ['2026-11-23', 30],
    ['2026-11-24', 7],
    ['2026-12-01', 0],
    ['2026-12-14', 0],
    ['2026-12-15', -14],
    ['2026-12-28', -14],
    ['2026-12-29', -28],
  ])('due on 1 December is reminded of on %s by %s', (today, wanted) =>
    expect(reminderOf('2026-12-01', today)).toBe(wanted),
  );

  it('is reminded of once a step, whichever days somebody looks', () => {
    const all: (number | undefined)[] = [];
    for (let day = '2026-09-01'; day < '2027-03-01'; day = dayAfter(day))
      all.push(reminderOf('2026-12-01', day));
    const steps = [...new Set(all)];
    expect(steps.slice(0, 6)).toEqual([undefined, 30, 7, 0, -REMIND_EVERY, -2 * REMIND_EVERY]);
    // Later days never go back to an earlier step.
    const places = all.map((s) => steps.indexOf(s));
    expect(places.every((p, i) => i === 0 || p >= (places[i - 1] ?? 0))).toBe(true);
  });

  it('is answered with a reason, unless the rule stands', () => {
    expect(ReviewInput.safeParse({ answer: 'stands', reason: '' }).success).toBe(true);
    for (const answer of ['change', 'ends']) {
      expect(ReviewInput.safeParse({ answer, reason: ' ' }).error?.issues[0]?.path).toEqual(['reason']);
      expect(ReviewInput.safeParse({ answer, reason: 'The Act was changed.' }).success).toBe(true);
    }
  });
});
