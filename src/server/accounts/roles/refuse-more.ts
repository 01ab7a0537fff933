import type { Action } from '../../../core/accounts/action.ts';
import { may, type Account } from '../../../core/accounts/authority.ts';
import { permissionWords } from '../../../core/accounts/roles/permissions.ts';
import { RefusedError } from '../../../core/refusal.ts';

/** Throws a RefusedError (403) where somebody would let others, or themselves, do what they may not do. */
export function refuseMore(by: Account, actions: readonly Action[], field: string): void {
  const missing = actions.filter((a) => !may(by, a));
  if (missing.length === 0) return;
  throw new RefusedError(
    'Nobody gives what they do not have.',
    [
      {
        field,
        message: `You may not do this yourself: ${missing.map(permissionWords).join(', ')}. Ask an officer.`,
      },
    ],
    403,
  );
}
