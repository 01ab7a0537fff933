import { z } from 'zod';
import type { Scope } from '../../core/accounts/scope.ts';

/** Reads what the account `a` is kept to, for `ScopeColumn`. */
export const SCOPE_SQL =
  '(SELECT JSON_ARRAYAGG(JSON_ARRAY(c.object, c.object_id)) FROM account_scope c WHERE c.account_id = a.id) AS scope';

const Pairs = z.array(z.tuple([z.string(), z.string()]));

/** `undefined` where an account is kept to nothing. A kind alone, without ids, stands for none of that kind. */
export const ScopeColumn = z
  .union([z.string(), z.array(z.unknown()), z.null()])
  .transform((value): Scope | undefined => {
    if (value === null) return undefined;
    const scope: Record<string, string[]> = {};
    for (const [object, id] of Pairs.parse(typeof value === 'string' ? JSON.parse(value) : value)) {
      const ids = (scope[object] ??= []);
      if (id !== '') ids.push(id);
    }
    return Object.fromEntries(Object.entries(scope).map(([object, ids]) => [object, ids.toSorted()]));
  });

/** The rows of a scope. */
export function scopeRows(accountId: number, scope: Scope): readonly (readonly [number, string, string])[] {
  return Object.entries(scope).flatMap(([object, ids]) =>
    (ids.length > 0 ? [...new Set(ids)] : ['']).map((id) => [accountId, object, id] as const),
  );
}
