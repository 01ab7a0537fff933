import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Action } from '../action.ts';
import { may } from '../authority.ts';
import { BUILT_IN_ROLES } from './built-in-role.ts';
import { builtIn, isOfficer, roleWords } from './held-role.ts';
import {
  newOwnRole,
  OwnRole,
  OwnRoleDraft,
  ROLE_SENTENCE,
  ROLE_VOCABULARY,
  roleActions,
} from './own-role.ts';
import { builtInActions, GIVEN_BY_ROLES } from './permissions.ts';
import { blindActs, kinship, needless, togetherAllow } from './role-kinship.ts';
import { roleUse } from './role-use.ts';
import { change, inWords, type Json } from '../../rules/change.ts';
import { fillSlot, sentenceText, slotsOf } from '../../rules/sentence.ts';

const of = (...actions: string[]) => ({ actions });
const someActions = fc.subarray([...GIVEN_BY_ROLES]);

describe('roles that ship', () => {
  it('let the officer do everything, and nobody else hand out roles', () => {
    expect(builtInActions('officer')).toEqual(GIVEN_BY_ROLES);
    for (const role of BUILT_IN_ROLES.filter((r) => r !== 'officer')) {
      expect(builtInActions(role)).not.toContain('accounts.edit');
      expect(builtInActions(role)).not.toContain('accounts.roles');
    }
  });

  it('leave to everybody what everybody may, also without a role', () => {
    expect(GIVEN_BY_ROLES).not.toContain('own-sessions');
    expect(may({ roles: [] }, 'own-sessions')).toBe(true);
    expect(may({ roles: [] }, 'today.read')).toBe(
      BUILT_IN_ROLES.every((r) => !builtInActions(r).includes('today.read')),
    );
  });

  it('add up', () => {
    const roles = [builtIn('site manager'), builtIn('records manager')];
    expect(may({ roles }, 'websites.edit') && may({ roles }, 'retention.edit')).toBe(true);
    expect(may({ roles }, 'access.change')).toBe(false);
    expect(roleWords({ roles })).toBe('site manager, records manager');
    expect(roleWords({ roles: [] })).toBe('no role');
    expect(isOfficer({ roles })).toBe(false);
    expect(isOfficer({ roles: [...roles, builtIn('officer')] })).toBe(true);
  });
});

describe('a role of one’s own', () => {
  it('allows what it is made of, in the order of the areas, each once', () => {
    fc.assert(
      fc.property(someActions, (actions) => {
        const role = newOwnRole(
          'Ours',
          fc.sample(fc.shuffledSubarray(actions, { minLength: actions.length }), 1)[0],
        );
        expect(roleActions(role)).toEqual(actions);
        expect(OwnRoleDraft.parse(role)).toEqual(role);
      }),
    );
  });

  it('takes a permission only in its own area', () => {
    expect(roleActions({ may: { websites: ['ledger.read', 'websites.read'] } })).toEqual(['websites.read']);
  });

  it.each([
    ['no task', { ...newOwnRole('Ours', ['ledger.read']), task: ' ' }, 'task'],
    ['nothing allowed', { ...newOwnRole('Ours'), task: 'Nothing' }, 'may.desk'],
    ['no name', { ...newOwnRole('', ['ledger.read']), task: 'Reads' }, 'name'],
  ])('with %s is not whole', (_, role, field) => {
    const paths = OwnRole.safeParse(role).error?.issues.map((i) => i.path.join('.'));
    expect(paths).toContain(field);
  });

  it.each([
    ['a permission there is not', { websites: ['websites.burn'] }, 'may.websites.0'],
    ['an area there is not', { moon: ['ledger.read'] }, 'may'],
  ])('is not saved with %s, and let go of it where it was frozen with it', (_, odd, field) => {
    const role = { name: 'A', task: 'B', may: { evidence: ['ledger.read'], ...odd } };
    const paths = OwnRoleDraft.safeParse(role).error?.issues.map((i) => i.path.join('.'));
    expect(paths).toContain(field);
    expect(roleActions(OwnRole.parse(role))).toEqual(['ledger.read']);
  });

  it('reads as a sentence, edited in its slots, also where an area came after it', () => {
    const old: OwnRole = { name: 'Ours', task: 'Reads', may: { evidence: ['ledger.read'] } };
    expect(sentenceText(ROLE_SENTENCE, old)).toContain('Evidence seeing the ledger.');
    expect(sentenceText(ROLE_SENTENCE, old)).toContain('Websites nothing.');
    const slot = slotsOf(ROLE_SENTENCE).find((s) => s.label === 'Websites');
    const next = fillSlot(old, slot!, ['websites.sweep', 'websites.read']);
    expect(roleActions(next)).toEqual(['websites.read', 'websites.sweep', 'ledger.read']);
    expect(inWords(change(old as Json, next as Json), ROLE_VOCABULARY).join()).toContain(
      'seeing websites, starting a sweep',
    );
  });
});

describe('roles beside each other', () => {
  it.each([
    [of('a', 'b'), of('a'), 'contains'],
    [of('a'), of('a', 'b'), 'within'],
    [of('a', 'b'), of('b', 'a'), 'same'],
    [of('a', 'c'), of('a', 'b'), undefined],
    [of(), of('a'), undefined],
    [of('a'), of(), undefined],
  ] as const)('%j and %j: %s', (one, other, is) => expect(kinship(one, other)).toBe(is));

  it('are needless where the others allow as much, and what is left allows all the same', () => {
    expect(needless([of('a'), of('a', 'b')])).toEqual([of('a')]);
    expect(needless([of('a', 'b'), of('a', 'b')])).toHaveLength(1);
    expect(needless([of('a', 'b'), of('b', 'c'), of('a', 'c')])).toHaveLength(1);
    expect(needless([of(), of('a')])).toEqual([]);
    fc.assert(
      fc.property(
        fc.array(
          someActions.map((actions) => ({ actions })),
          { maxLength: 5 },
        ),
        (roles) => {
          const spare = needless(roles);
          const kept = roles.filter((r) => !spare.includes(r));
          expect(togetherAllow(kept)).toEqual(togetherAllow(roles));
          // None of those that are kept could go, too.
          for (const r of kept)
            if (r.actions.length > 0)
              expect(togetherAllow(kept.filter((k) => k !== r))).not.toEqual(togetherAllow(kept));
        },
      ),
    );
  });

  it('tell what can be done but not seen', () => {
    expect(blindActs(['websites.sweep', 'ledger.read', 'ledger.export'])).toEqual([
      { action: 'websites.sweep', lacks: 'websites.read' },
    ]);
    expect(blindActs(GIVEN_BY_ROLES)).toEqual([]);
  });
});

describe('a role against its use', () => {
  const use = (account: number, action: Action, lastOn: string) => ({ account, action, lastOn });
  const role = of('ledger.read', 'ledger.export', 'websites.read');

  it('is used by what its holders did lately, and by nothing else', () => {
    const found = roleUse(
      role,
      [1, 2],
      [
        use(1, 'ledger.read', '2026-11-01'),
        use(2, 'ledger.export', '2026-08-31'),
        use(2, 'access.read', '2026-11-01'),
        use(3, 'websites.read', '2026-11-01'),
      ],
      '2026-09-01',
    );
    expect(found).toEqual({
      used: ['ledger.read'],
      unused: ['ledger.export', 'websites.read'],
      byHolder: [
        { account: 1, used: 1 },
        { account: 2, used: 0 },
      ],
    });
  });

  it('counts the day itself, and nobody is nobody', () => {
    expect(roleUse(role, [1], [use(1, 'ledger.read', '2026-09-01')], '2026-09-01').used).toEqual([
      'ledger.read',
    ]);
    expect(roleUse(role, [], [use(1, 'ledger.read', '2026-09-01')], '2026-09-01')).toEqual({
      used: [],
      unused: role.actions,
      byHolder: [],
    });
  });
});
