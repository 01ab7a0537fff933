import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { change, inWords } from '../../rules/change.ts';
import { admission, type Candidate } from './admission.ts';
import { personOf, type Person } from './claims.ts';
import { roleChange, rolesOfGroups, type HeldByGroups } from './group-roles.ts';
import { newProvider, providerVocabulary, type ProviderContent } from './provider.ts';

const usual = newProvider('Harbour login', 'yare');

describe('claims', () => {
  const read = (claims: Record<string, unknown>, groupsClaim = 'groups') => personOf(claims, { groupsClaim });

  it('are read as the standard has them', () => {
    expect(
      read({
        ...{ sub: 'u-1', email: 'Nora.Lind@Brindle.example', email_verified: true, name: 'Nora Lind' },
        ...{ title: 'Clerk', groups: ['Clerks', 'Clerks', ' Port '], amr: ['pwd', 'otp'] },
      }),
    ).toEqual({
      ...{
        subject: 'u-1',
        email: 'nora.lind@brindle.example',
        verified: true,
        name: 'Nora Lind',
        title: 'Clerk',
      },
      ...{ groups: ['Clerks', 'Port'], secondFactor: true },
    });
  });

  test.each([
    ['a text', { groups: 'Clerks' }, 'groups', ['Clerks']],
    ['an empty list', { groups: [] }, 'groups', []],
    ['none', {}, 'groups', undefined],
    ['a number', { groups: 7 }, 'groups', undefined],
    ['a path', { realm: { roles: ['A'] } }, 'realm.roles', ['A']],
    ['a name with dots', { 'https://x.example/groups': ['B'] }, 'https://x.example/groups', ['B']],
    ['what every object has', {}, 'constructor.name', undefined],
    ['things that are no texts', { groups: ['A', 4, null, { a: 1 }, ''] }, 'groups', ['A']],
  ] as const)('groups from %s', (_what, claims, path, groups) => {
    expect(read({ sub: 'x', ...claims }, path).groups).toEqual(groups);
  });

  test.each([
    [{ email: 'no address' }, undefined],
    [{ email: ['a@b.example'] }, undefined],
    [{ email: `${'a'.repeat(300)}@b.example` }, undefined],
    [{ email: 'a@b.example' }, 'a@b.example'],
  ])('an address from %o', (claims, email) => {
    expect(read({ sub: 'x', ...claims }).email).toBe(email);
  });

  it('never throw, whatever comes', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue()), fc.string({ minLength: 1 }), (claims, path) => {
        const person = read(claims, path);
        expect(person.name.length).toBeLessThanOrEqual(120);
        expect(person.groups?.every((g) => typeof g === 'string') ?? true).toBe(true);
      }),
    );
  });
});

describe('admission', () => {
  const nora: Person = {
    ...{ subject: 'u-1', email: 'n@b.example', verified: true, name: 'Nora', title: '' },
    ...{ groups: [], secondFactor: false },
  };
  const account = (more: Partial<Candidate> = {}): Candidate => ({
    id: 4,
    disabled: false,
    isAnother: false,
    ...more,
  });

  test.each([
    ['somebody known', nora, usual, { known: account(), givenRoles: 0 }, 'known'],
    [
      'somebody known whose address is another’s',
      nora,
      usual,
      { known: account(), byEmail: account({ id: 5 }), givenRoles: 0 },
      'known',
    ],
    ['an account with the verified address', nora, usual, { byEmail: account(), givenRoles: 0 }, 'linked'],
    ['a newcomer with a role', nora, { ...usual, newcomers: 'made' }, { givenRoles: 1 }, 'made'],
  ] as const)('lets in %s', (_what, person, content, found, as) => {
    expect(admission(person, content, found).as).toBe(as);
  });

  test.each([
    [
      'nobody',
      { ...nora, subject: '' },
      usual,
      { known: account(), givenRoles: 1 },
      'did not say who you are',
    ],
    [
      'without a second factor',
      nora,
      { ...usual, needs: 'second factor' },
      { known: account(), givenRoles: 1 },
      'second factor',
    ],
    ['a disabled account', nora, usual, { known: account({ disabled: true }), givenRoles: 1 }, 'disabled'],
    [
      'an address that is not verified',
      { ...nora, verified: false },
      usual,
      { byEmail: account(), givenRoles: 1 },
      'verified',
    ],
    [
      'an account that is somebody else’s',
      nora,
      usual,
      { byEmail: account({ isAnother: true }), givenRoles: 1 },
      'somebody else’s',
    ],
    [
      'a disabled account by address',
      nora,
      usual,
      { byEmail: account({ disabled: true }), givenRoles: 1 },
      'disabled',
    ],
    ['a newcomer', nora, usual, { givenRoles: 3 }, 'no account'],
    ['a newcomer without a role', nora, { ...usual, newcomers: 'made' }, { givenRoles: 0 }, 'gives a role'],
    [
      'a newcomer without an address',
      { ...nora, email: undefined },
      { ...usual, newcomers: 'made' },
      { givenRoles: 1 },
      'e-mail',
    ],
    [
      'a newcomer with an address of nobody’s word',
      { ...nora, verified: false },
      { ...usual, newcomers: 'made' },
      { givenRoles: 1 },
      'verified',
    ],
  ] as const)('refuses %s, and says why', (_what, person, content, found, why) => {
    const verdict = admission(person, content as ProviderContent, found);
    expect(verdict.as).toBe('refused');
    expect('why' in verdict && verdict.why).toContain(why);
  });
});

describe('roles by groups', () => {
  const names = fc.constantFrom('a', 'b', 'c', 'd');
  const roles = fc.constantFrom('officer', 'auditor', '7', '8');
  const mappings = fc.dictionary(names, fc.uniqueArray(roles));
  const helds = fc.uniqueArray(fc.record({ role: roles, byGroups: fc.boolean() }), {
    selector: (h) => h.role,
  });

  it('end at what was given by hand and what the groups give, however it stood before', () => {
    fc.assert(
      fc.property(
        mappings,
        fc.uniqueArray(names),
        helds,
        fc.uniqueArray(roles),
        fc.boolean(),
        (mapping, groups, held, inForce, isKept) => {
          const told = rolesOfGroups(mapping, groups).map((t) => t.role);
          const { give, take, refused } = roleChange(held, told, { inForce: new Set(inForce), isKept });
          const after = new Set([...held.map((h) => h.role).filter((r) => !take.includes(r)), ...give]);
          // Slow and obvious.
          const wanted = new Set(held.filter((h) => !h.byGroups).map((h) => h.role));
          for (const [group, its] of Object.entries(mapping))
            for (const role of its)
              if (
                groups.some((g) => g === group) &&
                inForce.includes(role) &&
                !(role === 'officer' && isKept)
              )
                wanted.add(role);
          expect(after).toEqual(wanted);
          expect(refused.every((r) => told.includes(r.role) && !give.includes(r.role))).toBe(true);
          const settled: HeldByGroups[] = [...after].map((role) => ({
            role,
            byGroups: !held.some((h) => h.role === role && !h.byGroups),
          }));
          expect(roleChange(settled, told, { inForce: new Set(inForce), isKept })).toMatchObject({
            give: [],
            take: [],
          });
        },
      ),
    );
  });

  it('name the groups that give each', () => {
    expect(rolesOfGroups({ A: ['auditor', 'officer'], B: ['auditor'], C: ['7'] }, ['B', 'A'])).toEqual([
      { role: 'auditor', groups: ['A', 'B'] },
      { role: 'officer', groups: ['A'] },
    ]);
  });

  it('are told in words as they change', () => {
    const before = { ...usual, groups: { A: ['auditor'] } };
    const after = { ...usual, newcomers: 'made' as const, groups: { A: ['auditor', '7'], B: ['auditor'] } };
    expect(
      inWords(
        change(before, after),
        providerVocabulary((r) => (r === '7' ? 'Clerk' : r)),
      ),
    ).toEqual([
      'Whoever has no account: is refused → gets one when a group gives a role',
      'Group A gives: Clerk added',
      'Group B gives: auditor added',
    ]);
  });
});
