import { z } from 'zod';
import { groupResource, ScimError, type ScimGroup } from '../../../../core/accounts/sign-on/scim.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../../store/columns.ts';
import { isDuplicate, type Queries } from '../../../store/pool.ts';
import type { Keeper } from './keeper.ts';

const Row = z.object({
  id: Count,
  name: z.string(),
  external_id: z.string().nullable(),
  changed_at: Instant,
  members: JsonColumn(z.array(z.tuple([z.number(), z.string()])).nullable()),
});

const SELECT = `SELECT g.id, g.name, g.external_id, g.changed_at,
    (SELECT JSON_ARRAYAGG(JSON_ARRAY(a.id, a.name)) FROM identity_group_member m JOIN account a ON a.id = m.account_id
     WHERE m.group_id = g.id) AS members
  FROM identity_group g WHERE g.provider_id = ? AND g.kept`;

function toGroup(row: z.infer<typeof Row>, { base }: Keeper): object {
  return groupResource(
    {
      ...{ id: row.id, name: row.name, externalId: row.external_id },
      at: { created: row.changed_at, lastModified: row.changed_at },
    },
    (row.members ?? []).map(([id, name]) => ({ id, name })),
    base,
  );
}

export async function listGroups(store: Queries, keeper: Keeper): Promise<readonly object[]> {
  const rows = await store.all(Row, `${SELECT} ORDER BY g.id`, [keeper.id]);
  return rows.map((r) => toGroup(r, keeper));
}

/** Throws a ScimError (404). */
export async function findGroup(store: Queries, keeper: Keeper, id: string): Promise<object> {
  const row = /^\d{1,9}$/.test(id)
    ? await store.one(Row, `${SELECT} AND g.id = ?`, [keeper.id, Number(id)])
    : undefined;
  if (!row) throw new ScimError(404, `There is no group ${id}.`);
  return toGroup(row, keeper);
}

/** A group that was only told at sign-ons is kept from now on. Throws a ScimError (409). */
export async function addGroup(tx: Queries, now: Date, keeper: Keeper, group: ScimGroup): Promise<number> {
  const known = await tx.one(
    z.object({ id: Count, kept: z.coerce.boolean() }),
    'SELECT id, kept FROM identity_group WHERE provider_id = ? AND name = ? FOR UPDATE',
    [keeper.id, group.name],
  );
  if (known?.kept) throw new ScimError(409, `There is a group ${group.name} already.`, 'uniqueness');
  const id =
    known?.id ??
    (
      await tx.run('INSERT INTO identity_group (provider_id, name, kept, changed_at) VALUES (?)', [
        [keeper.id, group.name, true, toDatetime(now)],
      ])
    ).id;
  await writeGroup(tx, now, keeper, id, group);
  return id;
}

/** Throws a ScimError (404, 409). */
export async function setGroup(
  tx: Queries,
  now: Date,
  keeper: Keeper,
  id: string,
  group: ScimGroup,
): Promise<void> {
  await findGroup(tx, keeper, id);
  await writeGroup(tx, now, keeper, Number(id), group);
}

async function writeGroup(
  tx: Queries,
  now: Date,
  keeper: Keeper,
  id: number,
  { name, externalId, members }: ScimGroup,
): Promise<void> {
  await tx
    .run('UPDATE identity_group SET name = ?, external_id = ?, kept = TRUE, changed_at = ? WHERE id = ?', [
      ...[name, externalId, toDatetime(now), id],
    ])
    .catch((error: unknown) => {
      throw isDuplicate(error)
        ? new ScimError(409, `There is a group ${name} already.`, 'uniqueness')
        : error;
    });
  const ids = members.filter((m) => /^\d{1,9}$/.test(m)).map(Number);
  const known = ids.length
    ? await tx.all(z.object({ id: Count }), 'SELECT id FROM account WHERE id IN (?)', [ids])
    : [];
  const strange = members.find((m) => !known.some((k) => String(k.id) === m));
  if (strange !== undefined)
    throw new ScimError(400, `members: there is no user ${strange} at ${keeper.name}.`, 'invalidValue');
  await tx.run('DELETE FROM identity_group_member WHERE group_id = ?', [id]);
  if (known.length > 0)
    await tx.run('INSERT INTO identity_group_member (group_id, account_id) VALUES ?', [
      known.map((k) => [id, k.id]),
    ]);
}

/** Throws a ScimError (404). */
export async function dropGroup(tx: Queries, keeper: Keeper, id: string): Promise<void> {
  await findGroup(tx, keeper, id);
  await tx.run('DELETE FROM identity_group WHERE id = ?', [Number(id)]);
}
