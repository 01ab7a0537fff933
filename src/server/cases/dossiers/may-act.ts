import type { Action } from '../../../core/accounts/action.ts';
import { authorize, type Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';

const NEEDS: Readonly<Record<string, Action>> = {
  advise: 'cases.advise',
  approve: 'cases.approve',
  'send back': 'cases.approve',
};

/** Some acts need more than writing does. Throws a RefusedError (403). */
export function refuseUnlessMay(account: Account, act: string): void {
  const verdict = authorize(account, NEEDS[act] ?? 'cases.dossiers', { kind: 'any', id: null });
  if (!verdict.allowed) throw new RefusedError(verdict.why, [], 403);
}

/** Throws a RefusedError (409) for what may not be now. */
export function refuseNow(why: string | undefined): void {
  if (why !== undefined) throw new RefusedError(why, [], 409);
}

/** A day that is over or runs. Throws a RefusedError (400). */
export function refuseFuture(field: string, day: string, today: string): void {
  if (day > today)
    throw new RefusedError('That day is still to come.', [{ field, message: `At the latest ${today}.` }]);
}
