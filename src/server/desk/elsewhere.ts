import type { Action } from '../../core/accounts/action.ts';

/** What another system has to grant too, before a permission does anything there. */
export interface Elsewhere {
  readonly action: Action;
  readonly system: string;
  /** Where the desk shows it. */
  readonly link: string;
  /** What the account there with which the program signs in has to be allowed: “reading its files”. */
  readonly needs: string;
  /** What the system said when it was done last; `no way` where the system has none for it. */
  readonly told: 'granted' | 'refused' | 'not tried' | 'no way';
  /** Its own words, where it refused; '' otherwise. */
  readonly said: string;
}

/** From how often it was done there, and failed. */
export function toldBy(done: number, failed: number): Elsewhere['told'] {
  if (done > 0) return 'granted';
  return failed > 0 ? 'refused' : 'not tried';
}
