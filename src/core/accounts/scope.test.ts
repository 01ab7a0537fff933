import { describe, expect, it } from 'vitest';
import { authorize, type Account } from './authority.ts';
import { builtIn } from './roles/held-role.ts';
import { outsideScope, type Placed, type Scope } from './scope.ts';

const account = (scope?: Scope): Account => ({
  id: 7,
  email: 'priya@test.example',
  name: 'Priya',
  title: '',
  roles: [builtIn('site manager')],
  scope,
});
const site = (id: string): Placed => ({ kind: 'notice', within: [{ kind: 'site', id }] });

describe('an account that is kept to a part', () => {
  it.each<[string, Scope | undefined, Placed, boolean]>([
    ['kept to nothing sees all', undefined, site('1'), true],
    ['kept to nothing does what is about all', undefined, { kind: 'tracker', wholeOf: ['site'] }, true],
    ['sees its own', { site: ['1', '2'] }, site('2'), true],
    ['does not see others', { site: ['1', '2'] }, site('3'), false],
    ['kept to none sees none', { site: [] }, site('1'), false],
    ['sees what belongs to nothing', { site: ['1'] }, { kind: 'detector' }, true],
    [
      'sees what belongs to another kind',
      { site: ['1'] },
      { kind: 'x', within: [{ kind: 'source', id: '9' }] },
      true,
    ],
    [
      'must see each thing it is within',
      { site: ['1'], source: ['9'] },
      {
        kind: 'x',
        within: [
          { kind: 'site', id: '1' },
          { kind: 'source', id: '8' },
        ],
      },
      false,
    ],
    ['does nothing about all of them', { site: ['1'] }, { kind: 'tracker', wholeOf: ['site'] }, false],
    ['does what is about all of others', { source: ['1'] }, { kind: 'tracker', wholeOf: ['site'] }, true],
    ['sees what is assigned to it', { site: ['1'] }, { kind: 'case', assignedTo: [3, 7] }, true],
    ['does not see what is assigned to others', { site: ['1'] }, { kind: 'case', assignedTo: [3] }, false],
  ])('%s', (_, scope, object, inside) => {
    expect(outsideScope(account(scope), object) === undefined).toBe(inside);
    expect(authorize(account(scope), 'websites.read', { ...object, id: 1 }).allowed).toBe(inside);
  });

  it('is told why', () => {
    const why = (object: Placed) =>
      authorize(account({ site: ['1'] }), 'websites.read', { ...object, id: 1 });
    expect(why(site('2'))).toMatchObject({ why: 'This is none of the websites you look after.' });
    expect(why({ kind: 'tracker', wholeOf: ['site'] })).toMatchObject({
      why: 'You look after some websites; this is about all of them.',
    });
  });

  it('may not do more than its role for it', () => {
    expect(
      authorize({ ...account({ site: ['1'] }), roles: [builtIn('access reviewer')] }, 'websites.read', {
        ...site('1'),
        id: 1,
      }).allowed,
    ).toBe(false);
  });
});
