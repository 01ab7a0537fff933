import { z } from 'zod';
import { ProviderContent, providerVocabulary } from '../../../core/accounts/sign-on/provider.ts';
import type { Action } from '../../../core/accounts/action.ts';
import { togetherAllow } from '../../../core/accounts/roles/role-kinship.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { findAccount } from '../account.ts';
import { allRoles } from '../roles/all-roles.ts';
import { refuseMore } from '../roles/refuse-more.ts';
import { settleGroupRoles } from './group-roles.ts';
import { findProvider } from './providers.ts';

const Id = z.object({ id: z.number() });

/** What is done with those who come from a provider, by its number. */
export const PROVIDER: PlainKind<ProviderContent> = {
  object: 'provider',
  content: ProviderContent,
  vocabulary: async (store) => {
    const names = new Map((await allRoles(store)).map((r) => [r.id, r.name]));
    return providerVocabulary((id) => names.get(id) ?? id);
  },
  read: async (store, key, lock) => {
    if (lock) await store.all(Id, 'SELECT id FROM identity_provider WHERE id = ? FOR UPDATE', [Number(key)]);
    return (await findProvider(store, Number(key))).content;
  },
  write: async (tx, key, content, before, now, by) => {
    const all = await allRoles(tx);
    const had = new Set(Object.values(before.groups).flat());
    const given = [...new Set(Object.values(content.groups).flat())].filter((id) => !had.has(id));
    const unknown = given.find((id) => !all.some((r) => r.id === id));
    if (unknown !== undefined)
      throw new RefusedError('There is no such role.', [
        { field: 'content.groups', message: 'Choose among those there are.' },
      ]);
    const { account } = await findAccount(tx, by);
    const roles = all.filter((r) => given.includes(r.id));
    refuseMore(account, togetherAllow(roles) as Action[], 'content.groups');
    await refuseTakenName('provider', () =>
      tx.run('UPDATE identity_provider SET name = ?, content = ? WHERE id = ?', [
        ...[content.name, JSON.stringify(content), Number(key)],
      ]),
    );
    await settleGroupRoles(tx, now, by);
  },
};
