import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { change, inWords, type Json } from '../../rules/change.ts';
import {
  Demand,
  demandOn,
  isHopeless,
  meets,
  policyVocabulary,
  SignInPolicy,
  USUAL_POLICY,
} from './policy.ts';
import { policyVerdict, type SigningIn } from './policy-outlook.ts';
import { OWN_WAYS, WAYS } from './way.ts';

const demands = fc.record({
  own: fc.constantFrom(...OWN_WAYS),
  signOn: fc.boolean(),
  idleMinutes: fc.integer({ min: 5, max: 60 }),
  mostHours: fc.integer({ min: 1, max: 720 }),
});
const ROLES = ['officer', 'auditor', '7'] as const;
const policies = fc.record({
  all: demands,
  roles: fc.dictionary(fc.constantFrom(...ROLES), demands, { maxKeys: 3 }),
});
const held = fc.uniqueArray(fc.constantFrom(...ROLES, 'constructor'), { maxLength: 4 });

it('asks the strictest of what is asked of everybody and of each role, as one finds by asking one after the other', () => {
  fc.assert(
    fc.property(policies, held, (policy, roles) => {
      const each = [
        policy.all,
        ...roles.flatMap((r) => (Object.hasOwn(policy.roles, r) ? [policy.roles[r] as Demand] : [])),
      ];
      const on = demandOn(policy, roles);
      // Slow and obvious: a way will do where every part lets it.
      for (const way of WAYS) expect(meets(on, way), way).toBe(each.every((d) => meets(d, way)));
      expect(on.idleMinutes).toBe(Math.min(...each.map((d) => d.idleMinutes)));
      expect(on.mostHours).toBe(Math.min(...each.map((d) => d.mostHours)));
      expect(isHopeless(on)).toBe(WAYS.every((way) => !meets(on, way)));
    }),
  );
});

it('names what asks for each part, and that part asks just that', () => {
  fc.assert(
    fc.property(policies, held, (policy, roles) => {
      const on = demandOn(policy, roles);
      for (const part of ['own', 'signOn', 'idleMinutes', 'mostHours'] as const) {
        const because = on.because[part];
        const says = because === 'all' ? policy.all : policy.roles[because.role];
        expect(says?.[part]).toBe(on[part]);
        if (because !== 'all') expect(roles).toContain(because.role);
      }
    }),
  );
});

it('asks no less of whoever is given one more role', () => {
  fc.assert(
    fc.property(policies, held, fc.constantFrom(...ROLES), (policy, roles, more) => {
      const before = demandOn(policy, roles);
      const after = demandOn(policy, [...roles, more]);
      for (const way of WAYS) if (meets(after, way)) expect(meets(before, way)).toBe(true);
    }),
  );
});

test.each([
  ['password', true, ['password', 'two factors', 'passkey', 'sign-on']],
  ['two factors', false, ['two factors', 'passkey']],
  ['passkey', true, ['passkey', 'sign-on']],
  ['none', true, ['sign-on']],
  ['none', false, []],
] as const)('with %s of one’s own and sign-on %s, these will do: %s', (own, signOn, ways) => {
  expect(WAYS.filter((way) => meets({ own, signOn }, way))).toEqual(ways);
});

it('refuses what would let nobody in, naming the part', () => {
  const fields = (d: unknown) => Demand.safeParse(d).error?.issues.map((i) => i.path.join('.'));
  expect(fields({ ...USUAL_POLICY.all, own: 'none', signOn: false })).toEqual(['own']);
  expect(fields({ ...USUAL_POLICY.all, idleMinutes: 480, mostHours: 2 })).toEqual(['idleMinutes']);
  expect(fields({ ...USUAL_POLICY.all, mostHours: 0 })).toContain('mostHours');
  expect(SignInPolicy.safeParse(USUAL_POLICY).success).toBe(true);
});

it('says what was changed in words', () => {
  const words = (before: SignInPolicy, after: SignInPolicy) =>
    inWords(
      change(before as Json, after as Json),
      policyVocabulary((r) => ({ officer: 'Officer' })[r] ?? r),
    );
  const strict = { ...USUAL_POLICY.all, own: 'passkey' as const };
  expect(words(USUAL_POLICY, { ...USUAL_POLICY, roles: { officer: strict } })).toEqual([
    'Officer: a passkey or sign-on, 480 minutes unused, 168 hours at most added',
  ]);
  expect([...words(USUAL_POLICY, { all: { ...strict, signOn: false }, roles: {} })].sort()).toEqual([
    'Everybody: sign in with: a password alone → a passkey',
    'Everybody: sign-on: does → does not',
  ]);
});

const who = (more: Partial<SigningIn>): SigningIn => ({
  ...{ id: 1, roles: ['officer'], hasPassword: true, hasCode: false, hasPasskey: false },
  ...{ signsOn: false, sessions: [] },
  ...more,
});
const officers = (own: (typeof OWN_WAYS)[number], signOn: boolean): SignInPolicy => ({
  ...USUAL_POLICY,
  roles: { officer: { ...USUAL_POLICY.all, own, signOn } },
});

test.each([
  ['a password where one will do', who({}), officers('password', true), 'ready', undefined],
  [
    'a password where a second factor is asked',
    who({}),
    officers('two factors', true),
    'sets up',
    'second factor',
  ],
  [
    'codes where a second factor is asked',
    who({ hasCode: true }),
    officers('two factors', true),
    'ready',
    undefined,
  ],
  ['codes where a passkey is asked', who({ hasCode: true }), officers('passkey', true), 'sets up', 'passkey'],
  [
    'a passkey where codes are asked',
    who({ hasPasskey: true }),
    officers('two factors', false),
    'ready',
    undefined,
  ],
  [
    'a passkey and no password',
    who({ hasPasskey: true, hasPassword: false }),
    officers('password', false),
    'ready',
    undefined,
  ],
  [
    'sign-on where it will do',
    who({ signsOn: true, hasPassword: false }),
    officers('passkey', true),
    'ready',
    undefined,
  ],
  [
    'sign-on where it will not',
    who({ signsOn: true, hasPassword: false }),
    officers('passkey', false),
    'cannot',
    'password',
  ],
  ['a password where only sign-on will do', who({}), officers('none', true), 'cannot', 'sign-on'],
] as const)('%s: %#', (_what, person, policy, verdict, missing) => {
  const found = policyVerdict(policy, person);
  expect([found.verdict, found.missing]).toEqual([verdict, missing]);
});

it('says that nobody can who holds two roles that ask for opposites', () => {
  const policy: SignInPolicy = {
    ...USUAL_POLICY,
    roles: {
      officer: { ...USUAL_POLICY.all, own: 'none', signOn: true },
      auditor: { ...USUAL_POLICY.all, own: 'passkey', signOn: false },
    },
  };
  const both = policyVerdict(policy, who({ roles: ['officer', 'auditor'], hasPasskey: true, signsOn: true }));
  expect([both.verdict, both.missing]).toEqual(['cannot', 'anything']);
});

it('counts the sessions that would end', () => {
  const found = policyVerdict(
    officers('two factors', false),
    who({ sessions: ['password', 'two factors', 'passkey', 'sign-on', 'password'] }),
  );
  expect(found.ends).toBe(3);
  expect(found.because).toEqual({ role: 'officer' });
});
