import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { estimateTime, fitPace, sumTimes, type Measured } from './estimate.ts';
import { afterRunAct, openRunActs, RUN_ACTS, RUN_STATES, settledState, type PartState } from './run.ts';

const GUESS = { perItem: 0.01, perByte: 1e-7 };

describe('how long it takes', () => {
  it('is a wide guess until enough was measured', () => {
    const amount = { items: 100, bytes: 0 };
    expect(estimateTime(amount, [], GUESS)).toEqual({ seconds: 1, low: 1 / 3, high: 3, measured: 0 });
    expect(estimateTime(amount, [{ items: 1, bytes: 0, seconds: 9 }], GUESS).measured).toBe(0);
  });

  it('is found again where works took exactly so long', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 1, noNaN: true }),
        fc.double({ min: 1e-8, max: 1e-6, noNaN: true }),
        fc.array(
          fc.record({ items: fc.integer({ min: 1, max: 1e5 }), bytes: fc.integer({ min: 1, max: 1e9 }) }),
          {
            minLength: 4,
            maxLength: 20,
          },
        ),
        (perItem, perByte, amounts) => {
          const ratios = new Set(amounts.map((a) => (a.items / a.bytes).toPrecision(2)));
          fc.pre(ratios.size > 2);
          const works = amounts.map((a) => ({ ...a, seconds: a.items * perItem + a.bytes * perByte }));
          const asked = { items: 500, bytes: 5e6 };
          const { seconds, low, high } = estimateTime(asked, works, GUESS);
          const truth = asked.items * perItem + asked.bytes * perByte;
          // Where the works differ little in kind, one pace alone explains them nearly as well.
          expect(Math.abs(seconds / truth - 1)).toBeLessThan(0.5);
          expect(low).toBeLessThanOrEqual(seconds);
          expect(high).toBeGreaterThanOrEqual(seconds);
        },
      ),
    ));

  it('never runs backwards: no pace is below zero', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            items: fc.integer({ min: 0, max: 1e6 }),
            bytes: fc.integer({ min: 0, max: 1e10 }),
            seconds: fc.double({ min: 0.001, max: 1e5, noNaN: true }),
          }),
          { minLength: 1, maxLength: 12 },
        ),
        (works: readonly Measured[]) => {
          const { perItem, perByte } = fitPace(works);
          expect(perItem).toBeGreaterThanOrEqual(0);
          expect(perByte).toBeGreaterThanOrEqual(0);
        },
      ),
    ));

  it('its interval holds what comes next nearly always', () => {
    let held = 0;
    let seed = 1;
    const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647;
    const noisy = (items: number): Measured => ({
      items,
      bytes: items * 1000,
      seconds: items * 0.02 * Math.exp((random() + random() + random() - 1.5) * 0.6),
    });
    for (let trial = 0; trial < 300; trial++) {
      const works = Array.from({ length: 8 }, () => noisy(10 + Math.floor(random() * 1000)));
      const next = noisy(10 + Math.floor(random() * 1000));
      const { low, high } = estimateTime(next, works, GUESS);
      if (next.seconds >= low && next.seconds <= high) held++;
    }
    expect(held / 300).toBeGreaterThan(0.9);
    expect(held / 300).toBeLessThanOrEqual(1);
  });

  it('of several is surer, for its size, than of each', () => {
    const one = { seconds: 100, low: 60, high: 160, measured: 8 };
    const all = sumTimes([one, one, one, one]);
    expect(all).toEqual({ seconds: 400, low: 320, high: 520, measured: 8 });
    expect(sumTimes([])).toEqual({ seconds: 0, low: 0, high: 0, measured: 0 });
  });
});

describe('a run', () => {
  it('does what is open in its state, and nothing else', () => {
    for (const state of RUN_STATES)
      for (const act of RUN_ACTS)
        expect(afterRunAct(state, act, true) !== undefined, `${act} of ${state}`).toBe(
          openRunActs(state).includes(act),
        );
    expect(afterRunAct('running', 'pause', true)).toBe('pausing');
    expect(afterRunAct('running', 'pause', false)).toBe('paused');
    expect(afterRunAct('running', 'cancel', true)).toBe('stopping');
    expect(afterRunAct('paused', 'cancel', false)).toBe('cancelled');
    expect(afterRunAct('done', 'cancel', false)).toBeUndefined();
  });

  it.each<[string, Parameters<typeof settledState>[0], PartState[], ReturnType<typeof settledState>]>([
    ['goes on while parts wait', 'running', ['done', 'waiting'], undefined],
    ['is done with its last part', 'running', ['done', 'done'], 'done'],
    ['is done where some could not be', 'running', ['done', 'failed'], 'done'],
    ['failed where none could be', 'running', ['failed', 'failed'], 'failed'],
    ['is paused with parts left', 'pausing', ['done', 'waiting'], 'paused'],
    ['is done, though somebody paused it, where nothing was left', 'pausing', ['done', 'done'], 'done'],
    ['is cancelled whatever is left', 'stopping', ['done', 'waiting'], 'cancelled'],
    ['is done where there was nothing to do', 'running', [], 'done'],
  ])('%s', (_, state, parts, expected) => {
    expect(settledState(state, parts)).toBe(expected);
  });
});
