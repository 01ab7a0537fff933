import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Action } from '../../../src/core/accounts/action.ts';
import { authorize, may, type Account } from '../../../src/core/accounts/authority.ts';
import { newOwnRole, type OwnRole } from '../../../src/core/accounts/roles/own-role.ts';
import { setDisabled } from '../../../src/server/accounts/account-care.ts';
import { ACCOUNT_SCOPE } from '../../../src/server/accounts/account-scope.ts';
import { findAccount } from '../../../src/server/accounts/account.ts';
import { ACCOUNT_ROLES, type AccountRoles } from '../../../src/server/accounts/roles/account-roles.ts';
import { noteUse } from '../../../src/server/accounts/roles/permission-use.ts';
import { addRole, ROLE } from '../../../src/server/accounts/roles/role-rule.ts';
import { listRoles, roleOutlook } from '../../../src/server/desk/role-outlook.ts';
import { whoCouldAgree } from '../../../src/server/rules/approvals.ts';
import { editObject, readObject, undoEdit } from '../../../src/server/rules/plain-object.ts';
import { editRule, takeRuleBack, undoRuleEdit } from '../../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import { testSource } from '../holdings/estate-rows.ts';
import { testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
const { store } = ctx;
let officer: Account;

beforeAll(async () => {
  officer = await testAccount(ctx);
});
afterAll(() => store.close());

const seen = async (id: number) => (await findAccount(store, id)).account;

async function give(by: Account, to: number, roles: readonly string[]): Promise<{ revision: number }> {
  return store.transaction(async (tx) => {
    const { content, revision } = await readObject(tx, ACCOUNT_ROLES, to);
    return editObject<AccountRoles>(tx, ctx.now(), ACCOUNT_ROLES, by.id, to, {
      ...{ revision, base: content, content: { roles: [...roles] } },
    });
  });
}

async function ownRole(actions: readonly Action[], inForce = true): Promise<string> {
  const id = await store.transaction((tx) =>
    addRole(tx, ctx.now(), officer.id, { ...newOwnRole(unique('Role '), actions), task: 'A task' }),
  );
  if (inForce) await move(id, 'put in force');
  return id;
}

async function move(
  id: string,
  act: 'put in force' | 'pause' | 'resume' | 'retire' | 'rehearse',
): Promise<void> {
  const { revision } = await readRule(store, ROLE, id);
  await store.transaction((tx) => moveRule(tx, ctx.now(), ROLE, officer.id, id, act, revision));
}

async function edit(by: Account, id: string, change: (was: OwnRole) => OwnRole): Promise<void> {
  const { content, revision } = await readRule(store, ROLE, id);
  await editRule(ctx, ROLE, by.id, id, { revision, base: content, content: change(content) });
}

describe('an account', () => {
  it('may what all of its roles allow, from the moment they are given, and everything is in the ledger', async () => {
    const { id } = await testAccount(ctx, 'auditor');
    const own = await ownRole(['websites.sweep']);
    await give(officer, id, ['auditor', own]);
    const account = await seen(id);
    expect(account.roles.map((r) => r.id)).toEqual(['auditor', own]);
    expect(may(account, 'websites.sweep') && may(account, 'ledger.read')).toBe(true);
    expect(may(account, 'websites.edit')).toBe(false);
    const entry = await store.one(
      z.object({ actor: z.string(), detail: z.json() }),
      "SELECT actor, detail FROM ledger_entry WHERE action = 'account roles.edit' AND object_id = ? ORDER BY id DESC LIMIT 1",
      [String(id)],
    );
    expect(entry?.actor).toBe(String(officer.id));
    expect(JSON.stringify(entry?.detail)).toContain('auditor');
  });

  it('without a role may see to itself, and is told that it has none', async () => {
    const { id } = await testAccount(ctx, 'auditor');
    await give(officer, id, []);
    const account = await seen(id);
    expect(authorize(account, 'own-sessions', { kind: 'session', id: 'x', owner: id }).allowed).toBe(true);
    expect(authorize(account, 'ledger.read', { kind: 'ledger', id: null })).toEqual({
      allowed: false,
      why: 'You have no role, and it takes one that includes seeing the ledger.',
    });
  });

  it('gets back by undo what was taken, and not what the one who undoes may not do', async () => {
    const { id } = await testAccount(ctx, 'auditor');
    const { revision } = await give(officer, id, ['site manager']);
    const care = await ownRole(['accounts.read', 'accounts.edit']);
    const reader = await testAccount(ctx, 'request handler');
    await give(officer, reader.id, [care]);
    const undo = (by: Account) =>
      store.transaction((tx) => undoEdit(tx, ctx.now(), ACCOUNT_ROLES, by.id, id, revision));
    await expect(undo(await seen(reader.id))).rejects.toThrow('Nobody gives what they do not have.');
    await undo(officer);
    expect((await seen(id)).roles.map((r) => r.id)).toEqual(['auditor']);
  });

  it('is given nothing that is none, or allows nothing yet', async () => {
    const { id } = await testAccount(ctx, 'auditor');
    const draft = await ownRole(['ledger.read'], false);
    await expect(give(officer, id, ['auditor', '999999'])).rejects.toThrow('There is no such role.');
    await expect(give(officer, id, ['auditor', draft])).rejects.toThrow('is not in force');
    expect((await seen(id)).roles.map((r) => r.id)).toEqual(['auditor']);
  });

  it('that is kept to a part is no officer, and an officer is not kept', async () => {
    const { id } = await testAccount(ctx, 'site manager');
    await store.transaction((tx) => ACCOUNT_SCOPE.write(tx, id, { site: ['1'] }, {}, ctx.now(), officer.id));
    await expect(give(officer, id, ['officer'])).rejects.toThrow('An officer answers for all of it.');
    await expect(
      store.transaction((tx) =>
        ACCOUNT_SCOPE.write(tx, officer.id, { site: ['1'] }, {}, ctx.now(), officer.id),
      ),
    ).rejects.toThrow('An officer answers for all of it.');
  });
});

describe('somebody who gives roles and is no officer', () => {
  it('gives and writes what they may do, and nothing more, by no way', async () => {
    const care = await ownRole(['accounts.read', 'accounts.edit', 'accounts.roles', 'ledger.read']);
    const { id } = await testAccount(ctx, 'auditor');
    await give(officer, id, [care]);
    const carer = await seen(id);
    const other = await testAccount(ctx, 'request handler');
    const within = await ownRole(['ledger.read']);
    await give(carer, other.id, ['request handler', within]);
    expect(may(await seen(other.id), 'ledger.read')).toBe(true);
    for (const wanted of [['officer'], ['auditor'], [care, 'site manager']])
      await expect(give(carer, id, wanted)).rejects.toMatchObject({ status: 403 });

    await edit(officer, within, (was) => ({ ...was, may: { ...was.may, websites: ['websites.edit'] } }));
    const { revision } = await readRule(store, ROLE, within);
    await edit(officer, within, (was) => ({ ...was, may: { ...was.may, websites: [] } }));
    await expect(
      edit(carer, within, (was) => ({ ...was, may: { ...was.may, websites: ['websites.edit'] } })),
    ).rejects.toThrow('Nobody gives what they do not have.');
    const last = await readRule(store, ROLE, within);
    await expect(
      store.transaction((tx) => undoRuleEdit(tx, ctx.now(), ROLE, carer.id, within, last.revision)),
    ).rejects.toThrow('Nobody gives what they do not have.');
    expect(revision).toBeLessThan(last.revision);
    // Taking away is open to them, also of what they may not do.
    const broad = await ownRole(['websites.edit', 'ledger.read']);
    await edit(carer, broad, (was) => ({ ...was, may: { ...was.may, websites: [] } }));
    await expect(
      store.transaction(async (tx) =>
        takeRuleBack(tx, ctx.now(), ROLE, carer.id, broad, 1, (await readRule(tx, ROLE, broad)).revision),
      ),
    ).rejects.toThrow('Nobody gives what they do not have.');
  });

  it('is among those who can agree to a role, as everybody who may put one in force', async () => {
    const care = await ownRole(['accounts.read', 'accounts.roles']);
    const { id } = await testAccount(ctx, 'auditor');
    await give(officer, id, [care]);
    const asked = { kind: ROLE as never, force: 'accounts.roles' as const, key: care };
    const people = await whoCouldAgree(store, asked, officer.id);
    expect(people.find((p) => p.id === id)).toMatchObject({ why: '' });
    expect(people.find((p) => p.id === officer.id)).toMatchObject({ why: 'asks for it' });
  });
});

describe('nobody is locked out', () => {
  const others = async (but: readonly number[]) => {
    const rows = await store.all(
      z.object({ id: z.number() }),
      "SELECT a.id FROM account a JOIN account_role h ON h.account_id = a.id WHERE h.role = 'officer' AND a.disabled_at IS NULL AND a.id NOT IN (?)",
      [but],
    );
    await store.run('UPDATE account SET disabled_at = UTC_TIMESTAMP(3) WHERE id IN (?)', [
      [0, ...rows.map((r) => r.id)],
    ]);
    return () =>
      store.run('UPDATE account SET disabled_at = NULL WHERE id IN (?)', [[0, ...rows.map((r) => r.id)]]);
  };

  it('by taking the last officer’s role, or their account', async () => {
    const one = await testAccount(ctx);
    const back = await others([one.id]);
    try {
      await expect(give(one, one.id, ['auditor'])).rejects.toThrow(
        'Nobody would be left who may do everything.',
      );
      const care = await testAccount(ctx, 'auditor');
      await expect(setDisabled(ctx, care, one.id, true)).rejects.toThrow('Nobody would be left');
      expect(may(await seen(one.id), 'accounts.edit')).toBe(true);
    } finally {
      await back();
    }
  });

  it('by two who take it from each other, at any moment', async () => {
    for (let round = 0; round < 8; round++) {
      const [one, two] = [await testAccount(ctx), await testAccount(ctx)];
      const back = await others([one.id, two.id]);
      const acts = [
        () => give(one, two.id, ['auditor']),
        () => (round % 2 === 0 ? give(two, one.id, []) : setDisabled(ctx, two, one.id, true)),
      ];
      try {
        const ended = await Promise.allSettled(acts.map((act) => act()));
        expect(ended.filter((e) => e.status === 'fulfilled')).toHaveLength(1);
        const left = await Promise.all(
          [one, two].map(async ({ id }) => {
            const { account, disabledAt } = await findAccount(store, id);
            return disabledAt === null && may(account, 'accounts.edit');
          }),
        );
        expect(left.filter(Boolean)).toHaveLength(1);
      } finally {
        await back();
      }
    }
  });
});

describe('a role of one’s own', () => {
  it('allows what is in force of it: not its draft, not while it is paused, and while it is rehearsed what was before', async () => {
    const id = await ownRole(['ledger.read']);
    const holder = await testAccount(ctx, 'auditor');
    await give(officer, holder.id, [id]);
    const allowed = async () => (await seen(holder.id)).roles.flatMap((r) => r.actions);
    await edit(officer, id, (was) => ({ ...was, may: { ...was.may, websites: ['websites.read'] } }));
    expect(await allowed()).toEqual(['ledger.read']);
    await move(id, 'rehearse');
    expect(await allowed()).toEqual(['ledger.read']);
    await move(id, 'put in force');
    expect(await allowed()).toEqual(['websites.read', 'ledger.read']);
    await move(id, 'pause');
    expect(await allowed()).toEqual([]);
    await move(id, 'resume');
    expect(await allowed()).toHaveLength(2);
    await expect(move(id, 'retire')).rejects.toThrow('Somebody holds it.');
    await give(officer, holder.id, []);
    await move(id, 'retire');
  });

  it('loses what the program does not have any more, and stands', async () => {
    const id = await ownRole(['ledger.read']);
    await store.run(
      "UPDATE rule_version SET content = JSON_SET(content, '$.may.moon', JSON_ARRAY('moon.read')) WHERE kind = 'role' AND id = ?",
      [id],
    );
    const holder = await testAccount(ctx, 'auditor');
    await give(officer, holder.id, [id]);
    expect((await seen(holder.id)).roles.flatMap((r) => r.actions)).toEqual(['ledger.read']);
  });

  it('tells who holds it, what they used, what its draft would change for each, and its kin', async () => {
    const id = await ownRole(['ledger.read', 'ledger.export', 'websites.read']);
    const [busy, idle] = [await testAccount(ctx, 'auditor'), await testAccount(ctx, 'auditor')];
    await give(officer, busy.id, [id]);
    await give(officer, idle.id, [id, 'site manager']);
    ctx.at('2026-11-20T12:00:00Z');
    await noteUse(ctx, busy.id, 'ledger.read');
    await noteUse(ctx, busy.id, 'ledger.read');
    ctx.at('2026-11-21T12:00:00Z');
    await noteUse(ctx, busy.id, 'ledger.read');
    const days = await store.one(
      z.object({ days: z.number() }),
      'SELECT days FROM permission_use WHERE account_id = ? AND action = ?',
      [busy.id, 'ledger.read'],
    );
    expect(days?.days).toBe(2);
    await edit(officer, id, (was) => ({
      ...was,
      may: { evidence: ['ledger.read'], access: ['access.read'] },
    }));
    const found = await roleOutlook(ctx, id);
    expect(found.used.map((u) => u.action)).toEqual(['ledger.read']);
    expect(found.unused.map((u) => u.action)).toEqual(['access.read']);
    expect(found.holders.map((h) => [h.id, h.used, h.gains, h.loses])).toEqual([
      [busy.id, 1, ['seeing who reaches what'], ['seeing websites', 'exporting the ledger']],
      [idle.id, 0, ['seeing who reaches what'], ['exporting the ledger']],
    ]);
    expect(found.kin).toContainEqual({ id: 'officer', name: 'officer', is: 'within' });
    const listed = (await listRoles(ctx)).roles.find((r) => r.id === id);
    expect(listed).toMatchObject({ allows: 3, holders: 2, unused: 2, state: 'in force' });
    ctx.at('2027-06-01T12:00:00Z');
    expect((await roleOutlook(ctx, id)).used).toEqual([]);
    ctx.at(new Date().toISOString());
  });

  it('is told as needless for somebody whose other roles allow as much', async () => {
    const id = await ownRole(['ledger.read']);
    const holder = await testAccount(ctx, 'auditor');
    await give(officer, holder.id, ['auditor', id]);
    const { needless } = await listRoles(ctx);
    expect(needless.find((n) => n.id === holder.id)?.roles).toHaveLength(1);
  });

  it('tells what other systems have to grant, as they answered', async () => {
    await store.run('UPDATE source SET health = ? WHERE id = ?', [
      JSON.stringify({ at: '2026-11-01T00:00:00Z', ok: false, words: 'Permission denied.' }),
      await testSource(ctx),
    ]);
    const found = await roleOutlook(ctx, 'data steward');
    expect(found.elsewhere).toContainEqual(
      expect.objectContaining({ act: 'surveying sources', told: 'refused', said: 'Permission denied.' }),
    );
    expect((await roleOutlook(ctx, 'auditor')).elsewhere).toEqual([]);
  });
});
