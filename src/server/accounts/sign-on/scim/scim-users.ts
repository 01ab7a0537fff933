import { z } from 'zod';
import { ScimError, userResource, type ScimUser } from '../../../../core/accounts/sign-on/scim.ts';
import { record } from '../../../evidence/ledger.ts';
import { Count, Flag, Instant, JsonColumn, toDatetime } from '../../../store/columns.ts';
import { isDuplicate, type Queries } from '../../../store/pool.ts';
import { addWithoutPassword } from '../../account.ts';
import { switchAccount } from '../../account-care.ts';
import { lockHolders } from '../../roles/stay-officer.ts';
import type { Keeper } from './keeper.ts';

const Row = z.object({
  id: Count,
  email: z.string(),
  name: z.string(),
  title: z.string(),
  disabled: Flag,
  external_id: z.string().nullable(),
  user_name: z.string().nullable(),
  created_at: Instant,
  changed_at: Instant.nullable(),
  in_groups: JsonColumn(z.array(z.tuple([z.number(), z.string()])).nullable()),
});

const SELECT = `SELECT a.id, a.email, a.name, a.title, a.disabled_at IS NOT NULL AS disabled, k.external_id, k.user_name,
    a.created_at, k.changed_at,
    (SELECT JSON_ARRAYAGG(JSON_ARRAY(g.id, g.name)) FROM identity_group_member m JOIN identity_group g ON g.id = m.group_id
     WHERE m.account_id = a.id AND g.provider_id = ? AND g.kept) AS in_groups
  FROM account a LEFT JOIN kept_account k ON k.account_id = a.id AND k.provider_id = ?
  WHERE k.dropped_at IS NULL`;

function toUser(row: z.infer<typeof Row>, { base }: Keeper): object {
  return userResource(
    {
      ...{ id: row.id, email: row.email, name: row.name, title: row.title, active: !row.disabled },
      ...{ externalId: row.external_id, userName: row.user_name },
      at: { created: row.created_at, lastModified: row.changed_at ?? row.created_at },
    },
    (row.in_groups ?? []).map(([id, name]) => ({ id, name })),
    base,
  );
}

/** Everybody with an account, but those that it deleted. */
export async function listUsers(store: Queries, keeper: Keeper): Promise<readonly object[]> {
  const rows = await store.all(Row, `${SELECT} ORDER BY a.id`, [keeper.id, keeper.id]);
  return rows.map((r) => toUser(r, keeper));
}

/** Throws a ScimError (404). */
export async function findUser(store: Queries, keeper: Keeper, id: string): Promise<object> {
  const row = /^\d{1,9}$/.test(id)
    ? await store.one(Row, `${SELECT} AND a.id = ?`, [keeper.id, keeper.id, Number(id)])
    : undefined;
  if (!row) throw new ScimError(404, `There is no user ${id}.`);
  return toUser(row, keeper);
}

/** Makes an account without a role; what its groups give comes with them. Throws a ScimError (409). */
export async function addUser(tx: Queries, now: Date, keeper: Keeper, user: ScimUser): Promise<number> {
  await lockHolders(tx);
  const known = await tx.one(
    z.object({ id: Count, dropped: Flag }),
    `SELECT a.id, k.dropped_at IS NOT NULL AS dropped FROM account a
     LEFT JOIN kept_account k ON k.account_id = a.id AND k.provider_id = ? WHERE a.email = ? FOR UPDATE`,
    [keeper.id, user.email],
  );
  if (known && !known.dropped)
    throw new ScimError(409, `${user.email} has an account already: ask for it by userName.`, 'uniqueness');
  const id = known?.id ?? (await addWithoutPassword(tx, user));
  await record(tx, now, {
    ...{ actor: 'system', action: known ? 'account.keep' : 'account.add', object: 'account', objectId: id },
    detail: { provider: keeper.name },
  });
  await writeUser(tx, now, keeper, id, user);
  return id;
}

/** Sets all that it keeps of an account. Throws a ScimError (404, 409). */
export async function setUser(
  tx: Queries,
  now: Date,
  keeper: Keeper,
  id: string,
  user: ScimUser,
): Promise<void> {
  await lockHolders(tx);
  await findUser(tx, keeper, id);
  await writeUser(tx, now, keeper, Number(id), user);
}

async function writeUser(
  tx: Queries,
  now: Date,
  keeper: Keeper,
  id: number,
  { email, name, title, active, externalId, userName }: ScimUser,
): Promise<void> {
  const before = await tx.one(
    z.object({ email: z.string(), name: z.string(), title: z.string() }),
    'SELECT email, name, title FROM account WHERE id = ? FOR UPDATE',
    [id],
  );
  await tx
    .run('UPDATE account SET email = ?, name = ?, title = ? WHERE id = ?', [email, name, title, id])
    .catch((error: unknown) => {
      throw isDuplicate(error)
        ? new ScimError(409, `${email} is somebody else’s address here.`, 'uniqueness')
        : error;
    });
  await tx.run(
    `INSERT INTO kept_account (provider_id, account_id, external_id, user_name, kept_at, changed_at) VALUES (?)
     ON DUPLICATE KEY UPDATE external_id = VALUES(external_id), user_name = VALUES(user_name), changed_at = VALUES(changed_at),
       dropped_at = NULL`,
    [[keeper.id, id, externalId, userName, toDatetime(now), toDatetime(now)]],
  );
  const changed = [
    ...(before?.email === email ? [] : ['email']),
    ...(before?.name === name ? [] : ['name']),
    ...(before?.title === title ? [] : ['title']),
  ];
  if (changed.length > 0)
    await record(tx, now, {
      ...{ actor: 'system', action: 'account.kept', object: 'account', objectId: id },
      detail: { provider: keeper.name, changed },
    });
  await switchAccount(tx, now, 'system', id, !active, { provider: keeper.name });
}

/** Disables an account, and takes it out of the groups that this provider keeps; what it did stays in the ledger. */
export async function dropUser(tx: Queries, now: Date, keeper: Keeper, id: string): Promise<void> {
  await lockHolders(tx);
  await findUser(tx, keeper, id);
  await switchAccount(tx, now, 'system', Number(id), true, { provider: keeper.name });
  await tx.run(
    `DELETE m FROM identity_group_member m JOIN identity_group g ON g.id = m.group_id
     WHERE m.account_id = ? AND g.provider_id = ?`,
    [Number(id), keeper.id],
  );
  await tx.run(
    `INSERT INTO kept_account (provider_id, account_id, kept_at, changed_at, dropped_at) VALUES (?)
     ON DUPLICATE KEY UPDATE changed_at = VALUES(changed_at), dropped_at = VALUES(dropped_at)`,
    [[keeper.id, Number(id), toDatetime(now), toDatetime(now), toDatetime(now)]],
  );
}
