import { z } from 'zod';
import { Count, Flag, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { factorsOf } from '../sign-in/factors.ts';
import { toldRoles } from './group-roles.ts';

const Identity = z
  .object({ provider_id: Count, name: z.string(), linked_at: Instant, seen_at: Instant, kept: Flag })
  .transform(({ provider_id, linked_at, seen_at, ...rest }) => ({
    ...{ ...rest, provider: provider_id, linkedAt: linked_at, seenAt: seen_at },
  }));

/** How somebody signs in, and which of their roles groups give. */
export async function signsInBy(store: Queries, account: number) {
  const identities = await store.all(
    Identity,
    `SELECT i.provider_id, p.name, i.linked_at, i.seen_at,
       EXISTS (SELECT 1 FROM kept_account k WHERE k.provider_id = p.id AND k.account_id = i.account_id) AS kept
     FROM account_identity i JOIN identity_provider p ON p.id = i.provider_id
     WHERE i.account_id = ? AND p.stopped_at IS NULL ORDER BY p.name`,
    [account],
  );
  const password = await store.one(
    z.object({ has: Flag }),
    "SELECT password_hash <> '' AS has FROM account WHERE id = ?",
    [account],
  );
  return {
    factors: await factorsOf(store, account),
    hasPassword: password?.has ?? false,
    identities,
    byGroups: (await toldRoles(store, account)).get(account) ?? [],
  };
}
