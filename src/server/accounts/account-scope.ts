import { z } from 'zod';
import { isOfficer } from '../../core/accounts/roles/held-role.ts';
import { SCOPE_KINDS, type Scope } from '../../core/accounts/scope.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { findAccount } from './account.ts';
import { scopeRows } from './scope-column.ts';

const Content = z
  .record(z.string().max(40), z.array(z.string().min(1).max(64)).max(2000, '2000 at most'))
  .refine((scope) => Object.keys(scope).every((k) => SCOPE_KINDS.has(k)), {
    error: `An account can be kept to ${[...SCOPE_KINDS.keys()].join(', ')}.`,
  });

/** What an account is kept to, by the id of the account. */
export const ACCOUNT_SCOPE: PlainKind<Scope> = {
  object: 'account scope',
  content: Content,
  vocabulary: async () => ({
    path: ([kind]) =>
      kind === undefined ? undefined : `Kept to these ${SCOPE_KINDS.get(kind)?.words ?? kind}`,
  }),
  read: async (store, key, lock) => (await findAccount(store, Number(key), lock)).account.scope ?? {},
  write: async (tx, key, scope) => {
    const { account } = await findAccount(tx, Number(key), true);
    if (isOfficer(account) && Object.keys(scope).length > 0)
      throw new RefusedError('An officer answers for all of it.', [
        { field: 'content', message: 'Only other roles can be kept to a part.' },
      ]);
    await tx.run('DELETE FROM account_scope WHERE account_id = ?', [account.id]);
    const rows = scopeRows(account.id, scope);
    if (rows.length > 0)
      await tx.run('INSERT INTO account_scope (account_id, object, object_id) VALUES ?', [rows]);
  },
};
