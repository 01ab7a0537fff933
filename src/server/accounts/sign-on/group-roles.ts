import { z } from 'zod';
import { roleChange, rolesOfGroups, type ToldRole } from '../../../core/accounts/sign-on/group-roles.ts';
import { ProviderContent } from '../../../core/accounts/sign-on/provider.ts';
import { isKept } from '../../../core/accounts/scope.ts';
import { record, type Actor } from '../../evidence/ledger.ts';
import { Count, Flag, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findAccount } from '../account.ts';
import { allRoles } from '../roles/all-roles.ts';
import { lockHolders } from '../roles/stay-officer.ts';
import { fitSessions, readPolicy } from '../sign-in/demand.ts';

const Member = z.object({ account_id: Count, provider_id: Count, name: z.string() });
const Mapping = z.object({ id: Count, content: JsonColumn(ProviderContent) });
const Held = z
  .object({ account_id: Count, role: z.string(), by_groups: Flag })
  .transform((r) => ({ account: r.account_id, role: r.role, byGroups: r.by_groups }));

/** What somebody's groups give, at the providers that are in use; of each role, "group at provider". */
export async function toldRoles(
  store: Queries,
  account?: number,
): Promise<ReadonlyMap<number, readonly ToldRole[]>> {
  const providers = new Map(
    (await store.all(Mapping, 'SELECT id, content FROM identity_provider WHERE stopped_at IS NULL')).map(
      (p) => [p.id, p.content],
    ),
  );
  const members = await store.all(
    Member,
    `SELECT m.account_id, g.provider_id, g.name FROM identity_group_member m JOIN identity_group g ON g.id = m.group_id
     ${account === undefined ? '' : 'WHERE m.account_id = ?'} ORDER BY g.name`,
    account === undefined ? [] : [account],
  );
  const groups = new Map<string, { account: number; provider: number; names: string[] }>();
  for (const m of members) {
    const key = `${m.account_id} ${m.provider_id}`;
    const of = groups.get(key) ?? { account: m.account_id, provider: m.provider_id, names: [] };
    of.names.push(m.name);
    groups.set(key, of);
  }
  const told = new Map<number, ToldRole[]>();
  for (const { account: id, provider, names } of groups.values()) {
    const content = providers.get(provider);
    if (!content) continue;
    const all = told.get(id) ?? [];
    for (const { role, groups: by } of rolesOfGroups(content.groups, names)) {
      const named = by.map((g) => `${g} at ${content.name}`);
      const known = all.findIndex((t) => t.role === role);
      if (known === -1) all.push({ role, groups: named });
      else all[known] = { role, groups: [...(all[known]?.groups ?? []), ...named] };
    }
    told.set(id, all);
  }
  return told;
}

/**
 * Gives and takes what groups say, of one account or of all, in the transaction that changed groups, what they give, or a
 * provider. The last officer stays one. What was given and taken stands in the ledger.
 */
export async function settleGroupRoles(tx: Queries, now: Date, by: Actor, account?: number): Promise<void> {
  await lockHolders(tx);
  const told = await toldRoles(tx, account);
  const roles = await allRoles(tx);
  const inForce = new Set(roles.filter((r) => r.state === 'in force').map((r) => r.id));
  const held = await tx.all(
    Held,
    `SELECT account_id, role, by_groups FROM account_role ${account === undefined ? '' : 'WHERE account_id = ?'}`,
    account === undefined ? [] : [account],
  );
  const concerned = new Set([...told.keys(), ...held.filter((h) => h.byGroups).map((h) => h.account)]);
  for (const id of [...concerned].sort((a, b) => a - b)) {
    const found = await findAccount(tx, id);
    const change = roleChange(
      held.filter((h) => h.account === id),
      (told.get(id) ?? []).map((t) => t.role),
      { inForce, isKept: isKept(found.account) },
    );
    const stays = change.take.includes('officer') && !(await hasOtherOfficer(tx, id));
    const take = change.take.filter((role) => role !== 'officer' || !stays);
    if (change.give.length + take.length === 0) continue;
    if (take.length > 0)
      await tx.run('DELETE FROM account_role WHERE account_id = ? AND role IN (?)', [id, take]);
    if (change.give.length > 0)
      await tx.run('INSERT INTO account_role (account_id, role, given_at, by_groups) VALUES ?', [
        change.give.map((role) => [id, role, toDatetime(now), true]),
      ]);
    const name = (role: string) => roles.find((r) => r.id === role)?.name ?? role;
    await record(tx, now, {
      ...{ actor: by, action: 'account roles.by-groups', object: 'account roles', objectId: id },
      detail: {
        words: [
          ...change.give.map((role) => `${name(role)} given, by ${groupsWords(told.get(id), role)}`),
          ...take.map((role) => `${name(role)} taken: no group gives it any more`),
          ...(stays ? ['officer stays: nobody else would be left who may do everything'] : []),
        ],
      },
    });
    await fitSessions(tx, await readPolicy(tx, 'share'), id);
  }
}

function groupsWords(told: readonly ToldRole[] | undefined, role: string): string {
  return told?.find((t) => t.role === role)?.groups.join(', ') ?? 'a group';
}

async function hasOtherOfficer(tx: Queries, id: number): Promise<boolean> {
  const row = await tx.one(
    z.object({ n: Count }),
    `SELECT COUNT(*) AS n FROM account a JOIN account_role h ON h.account_id = a.id
     WHERE a.disabled_at IS NULL AND h.role = 'officer' AND a.id <> ?`,
    [id],
  );
  return (row?.n ?? 0) > 0;
}

/** Says in which groups of a provider somebody is, in place of what was said before; groups that it keeps by SCIM stay. */
export async function setGroups(
  tx: Queries,
  now: Date,
  provider: number,
  account: number,
  names: readonly string[],
): Promise<void> {
  await tx.run(
    `DELETE m FROM identity_group_member m JOIN identity_group g ON g.id = m.group_id
     WHERE m.account_id = ? AND g.provider_id = ? AND NOT g.kept`,
    [account, provider],
  );
  if (names.length === 0) return;
  await tx.run('INSERT IGNORE INTO identity_group (provider_id, name, kept, changed_at) VALUES ?', [
    names.map((name) => [provider, name, false, toDatetime(now)]),
  ]);
  await tx.run(
    `INSERT IGNORE INTO identity_group_member (group_id, account_id)
     SELECT id, ? FROM identity_group WHERE provider_id = ? AND NOT kept AND name IN (?)`,
    [account, provider, names],
  );
}
