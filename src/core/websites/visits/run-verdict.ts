import type { Purpose } from '../notice/purpose.ts';
import { startsOn, type RegimeRow } from '../notice/regime.ts';
import { regionName } from '../notice/region.ts';
import type { RunVerdict, VisitEvent } from './visit.ts';

/** Something that ran or was stored in a visit, and what is known of it. */
export interface Ran {
  /** `null` where nobody has said what it is for. */
  readonly purpose: Purpose | null;
  /** It belongs to the notice's own service. */
  readonly ours: boolean;
  /** Of a tag that may run before it is allowed, if it identifies nobody. */
  readonly adapts: boolean;
  /** It stores something, or carries something that was stored. */
  readonly identifies: boolean;
}

/** How the purposes stood then, as the gate told it; `undefined` where no gate was there. */
export type StateThen = VisitEvent['purposes'];

/** Whether something might run when it did, and why. */
export function runVerdict(
  ran: Ran,
  state: StateThen,
  answered: boolean,
  regime: RegimeRow,
  region: string,
): { readonly verdict: RunVerdict; readonly why: string } {
  const place = regionName(region);
  if (ran.ours) return { verdict: 'permitted', why: 'It belongs to the notice.' };
  if (ran.purpose === null)
    return {
      verdict: 'unsorted',
      why: 'Nobody has said what it is for, so nobody can say whether it may run.',
    };
  const { code, name, essential } = ran.purpose;
  if (essential) return { verdict: 'permitted', why: `${name} runs without being asked for.` };
  const stands = state?.[code] ?? (startsOn(regime, ran.purpose) ? 'starts on' : 'waits');
  if (stands === 'allowed') return { verdict: 'permitted', why: `The visitor had allowed ${name}.` };
  if (stands === 'starts on')
    return { verdict: 'permitted', why: `In ${place} ${name} runs until it is refused: ${regime.law}.` };
  if (ran.adapts && !ran.identifies)
    return {
      verdict: 'reduced',
      why: `It needs ${name}, which is not allowed; it stored nothing and sent nothing that identifies.`,
    };
  const lacks = ran.adapts ? ' It is to run without identifiers until then, and did not.' : '';
  return answered || stands === 'refused'
    ? { verdict: 'refused', why: `It needs ${name}, which the visitor had refused.${lacks}` }
    : {
        verdict: 'too early',
        why: `It needs ${name}. In ${place} it may not run unless allowed: ${regime.law}.${lacks}`,
      };
}
