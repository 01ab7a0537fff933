import { expect, it } from 'vitest';
import { authorize, type Account } from './authority.ts';
import { ACTIONS } from './action.ts';
import { builtIn } from './roles/held-role.ts';
import { BUILT_IN_ROLES, type BuiltInRole } from './roles/built-in-role.ts';

const who = (role: BuiltInRole, id = 1): Account => ({
  id,
  roles: [builtIn(role)],
  email: 'a@b.example',
  name: 'A',
  title: '',
});
const site = { kind: 'site', id: 1 };

it('lets nobody in who is not signed in', () => {
  for (const action of ACTIONS) expect(authorize(undefined, action, site).allowed).toBe(false);
});

it('gives the auditor reading and exporting, and nothing that changes a thing', () => {
  const writes = ACTIONS.filter((a) => !/\.(read|export)$/.test(a) && a !== 'own-sessions');
  expect(writes.length).toBeGreaterThan(3);
  for (const action of writes) expect(authorize(who('auditor'), action, site).allowed).toBe(false);
  expect(authorize(who('auditor'), 'ledger.export', site).allowed).toBe(true);
});

it('lets every role see to its own sessions, and to nobody else’s', () => {
  for (const role of BUILT_IN_ROLES) {
    expect(authorize(who(role, 7), 'own-sessions', { kind: 'session', id: 'x', owner: 7 }).allowed).toBe(
      true,
    );
    const other = authorize(who(role, 7), 'own-sessions', { kind: 'session', id: 'x', owner: 8 });
    expect(other).toEqual({ allowed: false, why: 'This session belongs to someone else.' });
  }
});

it('says which role lacks what', () => {
  expect(authorize(who('data steward'), 'websites.sweep', site)).toEqual({
    allowed: false,
    why: 'Your role, data steward, does not include starting a sweep.',
  });
});
