import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import type { Holder } from '../../core/accounts/roles/held-role.ts';
import { inScope } from '../../core/accounts/scope.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/** What of Today somebody does not have before them, though they may see it. */
export interface SetApart {
  readonly hidden: number;
  /** Changes with what that is. */
  readonly mark: number;
}

const Row = z.object({
  kind: z.string(),
  item_key: z.string(),
  action: z.string(),
  assigned_to: z.number().nullable(),
  within_object: z.string(),
  within_id: z.string(),
  /** Who put it off, or has it. */
  account: z.number(),
});

const COLUMNS = 'i.kind, i.item_key, i.action, i.assigned_to, i.within_object, i.within_id';

/** What each of these put off, and what of theirs somebody else has now. */
export async function setApart(
  store: Queries,
  now: Date,
  accounts: readonly (Holder & Pick<Account, 'id'> & Partial<Pick<Account, 'scope'>>)[],
): Promise<ReadonlyMap<number, SetApart>> {
  const [putOff, handed] = await Promise.all([
    store.all(
      Row,
      `SELECT ${COLUMNS}, p.account_id AS account FROM today_put_off p JOIN today_item i ON i.kind = p.kind AND i.item_key = p.item_key
       WHERE p.account_id IN (?) AND p.until > ? AND p.steady = i.steady`,
      [accounts.map((a) => a.id), toDatetime(now)],
    ),
    store.all(
      Row,
      `SELECT ${COLUMNS}, h.to_account AS account FROM today_handed h JOIN today_item i ON i.kind = h.kind AND i.item_key = h.item_key
       WHERE i.assigned_to IS NULL`,
    ),
  ]);
  return new Map(
    accounts.map((a) => {
      const sees = (r: z.infer<typeof Row>) =>
        may(a, r.action as Action) &&
        (r.assigned_to ?? a.id) === a.id &&
        inScope({ scope: a.scope }, r.within_object, r.within_id);
      const keyOf = (r: z.infer<typeof Row>) => `${r.kind}\n${r.item_key}`;
      const hidden = new Set([
        ...putOff.filter((r) => r.account === a.id && sees(r)).map(keyOf),
        ...handed.filter((r) => r.account !== a.id && sees(r)).map(keyOf),
      ]);
      const given = handed.filter((r) => r.account === a.id).map(keyOf);
      return [a.id, { hidden: hidden.size, mark: markOf([...hidden, '', ...given]) }];
    }),
  );
}

function markOf(keys: readonly string[]): number {
  return keys.length === 1
    ? 0
    : createHash('sha256').update(keys.toSorted().join('\n\n')).digest().readUInt32BE();
}
