import { describe, expect, it, test } from 'vitest';
import { isWeekday, requestClock } from './law/clock.ts';
import { findLaw } from './law/laws.ts';
import { leftWords, needsOf, whyNotClosed, type RequestFacts } from './progress.ts';
import { OUTCOMES, REQUEST_KINDS } from './request.ts';

const CLOCK = requestClock({
  ...{
    law: findLaw('gdpr'),
    kind: 'access',
    received: '2026-11-04',
    pauses: [],
    extended: null,
    answered: null,
    today: '2026-11-28',
  },
  isWorkingDay: isWeekday,
});
const facts = (more: Partial<RequestFacts> = {}): RequestFacts => ({
  ...{
    kind: 'access',
    outcome: null,
    knownBy: 'link',
    identity: 'agrees',
    search: 'done',
    bearers: 0,
    clock: CLOCK,
  },
  ...{ tasks: { open: 0, late: 0, all: 0 }, items: { theirs: 4, ask: 0, toLookOver: 0, unread: 0 } },
  ...{ package: { leftovers: 0, stale: false }, changes: null, answered: true, toConfirm: false },
  ...more,
});

test.each<[Partial<RequestFacts>, string | undefined]>([
  [{}, undefined],
  [{ answered: false }, 'answered'],
  [{ knownBy: null, identity: 'not asked' }, 'known'],
  [{ search: 'never' }, 'found'],
  [{ bearers: 2 }, 'told apart'],
  [{ items: { theirs: 4, ask: 1, toLookOver: 0, unread: 0 } }, 'told apart'],
  [{ items: { theirs: 4, ask: 0, toLookOver: 3, unread: 0 } }, 'looked over'],
  [{ items: { theirs: 4, ask: 0, toLookOver: 0, unread: 1 } }, 'found'],
  [{ package: null }, 'package'],
  [{ package: { leftovers: 0, stale: true } }, 'package'],
  [{ package: { leftovers: 1, stale: false } }, 'package'],
  [{ package: null, items: { theirs: 0, ask: 0, toLookOver: 0, unread: 0 } }, undefined],
  [{ tasks: { open: 1, late: 0, all: 3 } }, 'tasks'],
  [{ kind: 'delete', package: null }, 'carried out'],
  [{ kind: 'delete', package: null, changes: { waiting: 1, failed: 0, done: 3 } }, 'carried out'],
  [{ kind: 'delete', package: null, changes: { waiting: 0, failed: 0, done: 4 } }, undefined],
  [{ kind: 'no sale', knownBy: null, search: 'never', package: null }, undefined],
])('with %j comes %s next', (more, step) => expect(needsOf(facts(more))[0]?.step).toBe(step));

describe('closing', () => {
  it('needs an answer, whatever the outcome', () => {
    for (const outcome of OUTCOMES)
      expect(whyNotClosed(facts({ answered: false }), outcome)).toMatch(/without its answer/);
  });
  it('as answered needs all that was open', () => {
    expect(whyNotClosed(facts(), 'answered')).toBeUndefined();
    expect(whyNotClosed(facts({ tasks: { open: 1, late: 0, all: 1 } }), 'answered')).toMatch(/0 of 1 tasks/);
    expect(whyNotClosed(facts({ tasks: { open: 1, late: 0, all: 1 } }), 'refused')).toBeUndefined();
    expect(whyNotClosed(facts({ outcome: 'answered' }), 'answered')).toMatch(/closed already/);
  });
  it('is asked of nothing that is closed', () => {
    for (const kind of REQUEST_KINDS)
      expect(needsOf(facts({ kind, outcome: 'answered', answered: false }))).toEqual([]);
  });
});

test.each([
  [6, false, '6 days left'],
  [1, false, '1 day left'],
  [0, false, 'due today'],
  [-1, false, 'late since yesterday'],
  [-5, false, 'late by 5 days'],
  [6, true, '6 days left, and the clock stands'],
])('%d days are “%s”', (daysLeft, isPaused, words) => {
  expect(leftWords({ ...CLOCK, daysLeft, isPaused, isLate: daysLeft < 0 })).toBe(words);
});
