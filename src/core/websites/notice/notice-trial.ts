import { differenceByChance } from '../../two-shares.ts';
import type { Rate } from '../consents/rate.ts';
import type { Fairness } from './fairness.ts';

/** One of two versions, as the trial found it. */
export interface Tried {
  readonly version: number;
  readonly rate: Rate | undefined;
  readonly fairness: readonly Fairness[];
}

export interface TrialVerdict {
  /** p of the difference in who allowed anything, by chance; `null` where too few have answered. */
  readonly chance: number | null;
  readonly better: number | null;
  readonly words: string;
  /** The version that more people allow is the less fair one. */
  readonly warning: string;
}

/** What a trial shows; a rate that is won by being less fair is no better. */
export function trialVerdict(a: Tried, b: Tried): TrialVerdict {
  const allowed = ({ rate }: Tried) =>
    rate?.shares
      ? { successes: Math.round(rate.answered * (1 - rate.shares.refused.share)), trials: rate.answered }
      : undefined;
  const [x, y] = [allowed(a), allowed(b)];
  if (!x || !y)
    return { chance: null, better: null, words: 'Too few have answered to compare them.', warning: '' };
  const chance = differenceByChance(x, y);
  const winner = x.successes / x.trials >= y.successes / y.trials ? a : b;
  const loser = winner === a ? b : a;
  const unmet = (t: Tried) => t.fairness.filter((f) => !f.met);
  const worse = unmet(winner).filter((f) => !unmet(loser).some((o) => o.words === f.words));
  const warning =
    worse.length > 0
      ? `Version ${winner.version} has the higher rate and is the less fair: ${worse.map((f) => f.words).join('; ')}. Consent won so may not be valid.`
      : '';
  if (chance >= 0.05)
    return { chance, better: null, words: 'They do not differ by more than chance.', warning };
  return {
    ...{ chance, better: winner.version, warning },
    words: `More people allow something with version ${winner.version}; it would be chance in ${chanceWords(chance)}.`,
  };
}

function chanceWords(p: number): string {
  return p < 0.001 ? 'less than one of 1000 trials' : `${Math.max(1, Math.round(p * 1000))} of 1000 trials`;
}
