import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { findByEmail } from '../../../src/server/accounts/account.ts';
import { accountOf } from '../../../src/server/accounts/session.ts';
import { beginKeeping, endKeeping, keeperOf } from '../../../src/server/accounts/sign-on/keeping.ts';
import { PROVIDER } from '../../../src/server/accounts/sign-on/provider-kind.ts';
import { addProvider } from '../../../src/server/accounts/sign-on/providers.ts';
import { answerScim, type ScimAnswer } from '../../../src/server/accounts/sign-on/scim/scim.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { PASSWORD, signIn, testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
let officer: Account;
let provider: number;

beforeAll(async () => {
  officer = await testAccount(ctx);
  provider = await addProvider(ctx, officer.id, {
    ...{ name: 'Directory', issuer: 'https://login.example', clientId: 'x', clientSecret: '' },
  });
  const { revision, content: base } = await readObject(ctx.store, PROVIDER, provider);
  await ctx.store.transaction((tx) =>
    editObject(tx, ctx.now(), PROVIDER, officer.id, provider, {
      ...{ revision, base, content: { ...base, groups: { Auditors: ['auditor'], Officers: ['officer'] } } },
    }),
  );
});
afterAll(() => ctx.store.close());

type Body = Record<string, never> & { readonly id: string; readonly Resources: readonly Body[] };
async function ask(method: string, path: string, body: unknown = {}): Promise<ScimAnswer & { body: Body }> {
  const url = new URL(path, 'https://desk.example');
  const answer = await answerScim(
    ctx,
    { id: provider, name: 'Directory', base: 'https://desk.example/scim/v2' },
    {
      ...{ method, body, path: url.pathname.split('/').filter(Boolean) },
      query: Object.fromEntries(url.searchParams),
    },
  );
  return answer as ScimAnswer & { body: Body };
}
const nora = (more: object = {}) => ({
  schemas: ['urn:ietf:params:scim:schemas:core:2.0:User'],
  ...{ userName: `${unique('Nora')}@Brindle.example`, externalId: unique('e') },
  ...{ name: { givenName: 'Nora', familyName: 'Lind' }, title: 'Clerk', active: true },
  ...more,
});
const patch = (...Operations: object[]) => ({
  schemas: ['urn:ietf:params:scim:api:messages:2.0:PatchOp'],
  Operations,
});
const filtered = (filter: string) => ask('GET', `/Users?filter=${encodeURIComponent(filter)}`);

describe('users', () => {
  it('are made, found, changed whole and in part, and disabled as they are deleted', async () => {
    const user = nora();
    const made = await ask('POST', '/Users', user);
    expect(made.status).toBe(201);
    expect(made.body).toMatchObject({
      ...{ userName: user.userName.toLowerCase(), displayName: 'Nora Lind', title: 'Clerk', active: true },
      externalId: user.externalId,
    });
    const { id } = made.body;
    expect((await ask('GET', `/Users/${id}`)).body).toEqual(made.body);
    // It has no role and no password, and whoever asks for one with it waits as long as for another.
    expect((await findByEmail(ctx.store, user.userName))?.account.roles).toEqual([]);
    await expect(
      signIn(ctx, { email: user.userName, password: '', address: '198.18.6.6', userAgent: '' }),
    ).rejects.toThrow('do not go together');

    const put = await ask('PUT', `/Users/${id}`, { ...user, title: 'Purser', displayName: 'N. Lind' });
    expect(put.body).toMatchObject({ title: 'Purser', displayName: 'N. Lind' });
    const patched = await ask(
      'PATCH',
      `/Users/${id}`,
      patch({ op: 'Replace', path: 'active', value: 'False' }),
    );
    expect(patched.body).toMatchObject({ active: false });
    expect((await findByEmail(ctx.store, user.userName))?.disabledAt).not.toBeNull();
    await ask('PATCH', `/Users/${id}`, patch({ op: 'replace', value: { active: true, title: 'Mate' } }));
    expect((await ask('GET', `/Users/${id}`)).body).toMatchObject({ active: true, title: 'Mate' });

    expect((await ask('DELETE', `/Users/${id}`)).status).toBe(204);
    expect((await ask('GET', `/Users/${id}`)).status).toBe(404);
    expect((await findByEmail(ctx.store, user.userName))?.disabledAt).not.toBeNull();
    // The same person comes back to the same account.
    const again = await ask('POST', '/Users', user);
    expect([again.status, again.body.id]).toEqual([201, id]);
    expect((await findByEmail(ctx.store, user.userName))?.disabledAt).toBeNull();
  });

  it('are not made twice, and those made by hand are found to be kept', async () => {
    const byHand = await testAccount(ctx, 'auditor');
    const twice = await ask('POST', '/Users', nora({ userName: byHand.email }));
    expect([twice.status, twice.body]).toMatchObject([409, { scimType: 'uniqueness', status: '409' }]);
    const found = await filtered(`userName eq "${byHand.email.toUpperCase()}"`);
    expect(found.body).toMatchObject({ totalResults: 1, itemsPerPage: 1, startIndex: 1 });
    const { token } = await signIn(ctx, {
      ...{ email: byHand.email, password: PASSWORD, address: '198.18.6.6', userAgent: '' },
    });
    await ask('PATCH', `/Users/${byHand.id}`, patch({ op: 'replace', path: 'active', value: false }));
    expect(await accountOf(ctx, token)).toBeUndefined();
  });

  it('keep a name that is no address beside the address', async () => {
    const email = `${unique('kai')}@brindle.example`;
    const name = unique('KAI');
    const made = await ask('POST', '/Users', { userName: name, emails: [{ value: email, primary: true }] });
    expect(made.body).toMatchObject({ userName: name, emails: [{ value: email }] });
    expect((await filtered(`userName eq "${name.toLowerCase()}"`)).body).toMatchObject({ totalResults: 1 });
    const moved = await ask(
      'PATCH',
      `/Users/${made.body.id}`,
      patch({ op: 'replace', path: 'emails[type eq "work"].value', value: `new-${email}` }),
    );
    expect(moved.body).toMatchObject({ userName: name, emails: [{ value: `new-${email}` }] });
  });

  it('are listed by pages and filters', async () => {
    for (let n = 0; n < 3; n += 1) await ask('POST', '/Users', nora({ title: 'Stoker' }));
    const page = await ask('GET', '/Users?filter=title%20eq%20%22stoker%22&startIndex=2&count=1');
    expect(page.body).toMatchObject({ totalResults: 3, startIndex: 2, itemsPerPage: 1 });
    expect((await filtered('title co "STOK" and not (active eq false)')).body).toMatchObject({
      totalResults: 3,
    });
    expect((await filtered('userName pr and title sw "stok"')).body).toMatchObject({ totalResults: 3 });
    const id = page.body.Resources[0]?.id ?? '';
    expect((await filtered(`id eq "${id}"`)).body).toMatchObject({ totalResults: 1 });
    expect((await ask('GET', '/Users?count=0')).body).toMatchObject({ itemsPerPage: 0 });
    expect((await filtered('title eq')).body).toMatchObject({ scimType: 'invalidFilter', status: '400' });
  });

  it.each([
    ['no name', { userName: '' }, 400],
    ['no address', { userName: 'kai' }, 400],
    ['a number for a name', { userName: 7 }, 400],
    ['nothing', null, 400],
    ['a list', [], 400],
  ])('are refused with %s', async (_what, body, status) => {
    const answer = await ask('POST', '/Users', body);
    expect([answer.status, answer.body]).toMatchObject([status, { status: String(status) }]);
  });

  it.each([
    ['GET', '/Users/none', 404],
    ['GET', '/Users/99999999', 404],
    ['PATCH', '/Users/99999999', 404],
    ['DELETE', '/Users/1%27', 404],
    ['GET', '/Elsewhere', 404],
    ['GET', '/constructor', 404],
    ['DELETE', '/Users', 405],
    ['POST', '/Users/1', 405],
  ])('%s %s answers %i', async (method, path, status) => {
    expect((await ask(method, path, patch())).status).toBe(status);
  });

  it('never disable the last officer', async () => {
    await ctx.store.run(
      "UPDATE account SET disabled_at = NOW(3) WHERE id <> ? AND id IN (SELECT account_id FROM account_role WHERE role = 'officer')",
      [officer.id],
    );
    const answer = await ask('DELETE', `/Users/${officer.id}`);
    expect(answer).toMatchObject({ status: 409 });
    expect((await findByEmail(ctx.store, officer.email))?.disabledAt).toBeNull();
  });
});

describe('groups', () => {
  it('give roles as people come and go, in each way of saying so', async () => {
    const [a, b] = [await ask('POST', '/Users', nora()), await ask('POST', '/Users', nora())];
    const roles = async (id: string) => {
      const rows = (await ask('GET', `/Users/${id}`)).body as unknown as { userName: string };
      return (await findByEmail(ctx.store, rows.userName))?.account.roles.map((r) => r.id);
    };
    const made = await ask('POST', '/Groups', { displayName: 'Auditors', members: [{ value: a.body.id }] });
    expect(made.status).toBe(201);
    expect([await roles(a.body.id), await roles(b.body.id)]).toEqual([['auditor'], []]);
    const group = `/Groups/${made.body.id}`;
    await ask('PATCH', group, patch({ op: 'Add', path: 'members', value: [{ value: b.body.id }] }));
    expect(await roles(b.body.id)).toEqual(['auditor']);
    await ask('PATCH', group, patch({ op: 'remove', path: `members[value eq "${a.body.id}"]` }));
    expect(await roles(a.body.id)).toEqual([]);
    await ask('PATCH', group, patch({ op: 'replace', value: { displayName: 'Former auditors' } }));
    expect(await roles(b.body.id)).toEqual([]);
    await ask('PUT', group, { displayName: 'Auditors', members: [{ value: a.body.id }] });
    expect([await roles(a.body.id), await roles(b.body.id)]).toEqual([['auditor'], []]);
    expect((await ask('GET', `/Users/${a.body.id}`)).body).toMatchObject({
      groups: [{ value: made.body.id, display: 'Auditors' }],
    });
    expect((await ask('GET', '/Groups?excludedAttributes=members')).body.Resources[0]).not.toHaveProperty(
      'members',
    );
    expect((await ask('DELETE', group)).status).toBe(204);
    expect(await roles(a.body.id)).toEqual([]);
  });

  it('are refused with members that are nobody, and twice with one name', async () => {
    const name = unique('Crew');
    expect(
      await ask('POST', '/Groups', { displayName: name, members: [{ value: '99999999' }] }),
    ).toMatchObject({
      ...{ status: 400, body: { scimType: 'invalidValue' } },
    });
    // Nothing of the refused one is left.
    expect((await ask('POST', '/Groups', { displayName: name })).status).toBe(201);
    expect((await ask('POST', '/Groups', { displayName: name })).status).toBe(409);
  });
});

describe('a provider that keeps accounts', () => {
  it('does so with a token, to its end, and no longer than that', async () => {
    const { token } = await beginKeeping(ctx, officer.id, provider, 30);
    const who = () => keeperOf(ctx.store, ctx.now(), `Bearer ${token}`);
    expect(await who()).toEqual({ id: provider, name: 'Directory' });
    expect(await keeperOf(ctx.store, ctx.now(), `Bearer ${token}x`)).toBeUndefined();
    expect(await keeperOf(ctx.store, ctx.now(), null)).toBeUndefined();
    ctx.at(new Date(Date.now() + 31 * 86_400_000).toISOString());
    expect(await who()).toBeUndefined();
    ctx.at(new Date().toISOString());
    expect(await who()).toBeDefined();
    await endKeeping(ctx, officer.id, provider);
    expect(await who()).toBeUndefined();
    await expect(endKeeping(ctx, officer.id, provider)).rejects.toThrow('keeps no accounts');
  });

  it('is told what can be asked', async () => {
    expect((await ask('GET', '/ServiceProviderConfig')).body).toMatchObject({ patch: { supported: true } });
    expect((await ask('GET', '/ResourceTypes')).body).toMatchObject({ totalResults: 2 });
    const user = encodeURIComponent('urn:ietf:params:scim:schemas:core:2.0:User');
    expect((await ask('GET', `/Schemas/${user}`)).status).toBe(404);
    const schemas = await ask('GET', '/Schemas');
    expect(schemas.body.Resources.map((r) => r.id)).toContain('urn:ietf:params:scim:schemas:core:2.0:Group');
  });
});
