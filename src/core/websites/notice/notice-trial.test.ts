import fc from 'fast-check';
import { expect, it } from 'vitest';
import { ratesOf } from '../consents/rate.ts';
import type { Fairness } from './fairness.ts';
import { isOnTrial } from './is-on-trial.ts';
import { trialVerdict } from './notice-trial.ts';

const tried = (version: number, answered: number, refused: number, ...unmet: string[]) => ({
  version,
  rate: ratesOf([{ key: String(version), shown: null, answered, refused, purposes: {} }], false)[0],
  fairness: unmet.map((words): Fairness => ({ met: false, words, blocks: false, law: 'x', fix: 'y' })),
});

it('splits visitors by their key in the share that was set, always the same way', () => {
  const key = fc
    .array(fc.constantFrom(...'0123456789abcdef'), { minLength: 32, maxLength: 32 })
    .map((a) => a.join(''));
  fc.assert(
    fc.property(key, fc.integer({ min: 1, max: 99 }), (k, share) => {
      expect(isOnTrial(k, share)).toBe(isOnTrial(k, share));
      if (isOnTrial(k, share)) expect(isOnTrial(k, share + 1)).toBe(true);
    }),
  );
  let on = 0;
  for (let n = 0; n < 20_000; n++)
    on += isOnTrial(((n * 2654435761) >>> 0).toString(16).padStart(32, '0'), 30) ? 1 : 0;
  expect(on / 20_000).toBeCloseTo(0.3, 1);
});

it('tells which is better only where it is more than chance, and that an unfair one is no better', () => {
  expect(trialVerdict(tried(3, 5, 1), tried(4, 900, 1)).better).toBeNull();
  expect(trialVerdict(tried(3, 1000, 500), tried(4, 1000, 495))).toMatchObject({ better: null, warning: '' });
  expect(trialVerdict(tried(3, 1000, 500), tried(4, 1000, 400))).toMatchObject({ better: 4, warning: '' });
  const unfair = trialVerdict(tried(3, 1000, 500, 'both'), tried(4, 1000, 400, 'both', 'Refusing is hidden'));
  expect(unfair.better).toBe(4);
  expect(unfair.warning).toContain('less fair: Refusing is hidden.');
});
