import type { Account } from '../../core/accounts/authority.ts';
import type { Within } from '../../core/accounts/scope.ts';
import type { Where } from '../store/where.ts';

/** Keeps a list to what an account may see of objects of a kind, whose id is in `column`. */
export function keepToScope(
  where: Where,
  account: Pick<Account, 'scope'>,
  kind: string,
  column: string,
): Where {
  return where.among(column, account.scope?.[kind]);
}

/** Keeps rows that say what they are within to those that an account may see. */
export function keepToWithin(where: Where, { scope }: Pick<Account, 'scope'>): Where {
  for (const [kind, ids] of Object.entries(scope ?? {}))
    where.andAny(
      [`within_object <> ?`, kind],
      [`within_id IN (${ids.map(() => '?').join(', ') || 'NULL'})`, ...ids],
    );
  return where;
}

/** What a row is within, as it is stored; of several, the first. */
export function withinColumns(within: readonly Within[] | undefined): {
  within_object: string;
  within_id: string;
} {
  return { within_object: within?.[0]?.kind ?? '', within_id: within?.[0]?.id ?? '' };
}
