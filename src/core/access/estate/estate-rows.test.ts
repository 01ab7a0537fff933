import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryLines, asked, TODAY, type Line } from '../../../../tests/access-estates.ts';
import { changedEstate, type AccessStep } from '../change/access-change.ts';
import { cleared, closed, copied, moved, relisted, smallestGroupOf } from '../change/composed-changes.ts';
import { isStepDone, rowAfterStep, stepIdentity } from '../change/step-row.ts';
import { Reach } from '../reach/reach.ts';
import { PlaceMarks } from '../views/place-marks.ts';
import { EstateLine } from './estate-line.ts';
import { globalRow, rowIdentity, rowsOf, type EstateRow } from './estate-row.ts';
import { changedReach, EstateRows, type RowChanges } from './estate-rows.ts';

const rowsFrom = (lines: readonly Line[]): Map<string, EstateRow> => {
  const found = new Map<string, EstateRow>();
  for (const l of lines) for (const row of rowsOf(EstateLine.parse(l))) found.set(rowIdentity(row), row);
  return found;
};

/** What one set of rows has and another has not, and the other way round. */
function between(before: ReadonlyMap<string, EstateRow>, after: ReadonlyMap<string, EstateRow>): RowChanges {
  const differs = (a: ReadonlyMap<string, EstateRow>, b: ReadonlyMap<string, EstateRow>) =>
    [...a].flatMap(([key, row]) => (JSON.stringify(b.get(key)) === JSON.stringify(row) ? [] : [row]));
  return { came: differs(after, before), went: differs(before, after) };
}

/** What everybody reaches; people in whatever order. */
const seen = (reach: Reach) => {
  const { people, tree } = reach.estate;
  return {
    places: tree.places.map((p, at) => [
      p.id,
      ...reach.whoReaches(at).map((set) =>
        set
          .first(99)
          .map((n) => people.persons[n]?.id)
          .sort(),
      ),
      reach.openToAnyone(at),
    ]),
    people: new Map(people.persons.map((p) => [p.id, reach.ofPerson(p, 99)])),
  };
};

function taken(rows: ReadonlyMap<string, EstateRow>): EstateRows {
  const all = new EstateRows();
  for (const row of rows.values()) all.put(row);
  return all;
}

describe('the rows of an estate', () => {
  it('are the estate that its lines are, and after a change what they would be if they were read anew', () => {
    fc.assert(
      fc.property(
        arbitraryLines(true),
        arbitraryLines(true),
        fc.integer({ min: 0, max: 99 }),
        (a, b, some) => {
          // Of the second, only some: most of an estate stays as it is.
          const before = rowsFrom(a);
          const after = new Map(before);
          for (const [i, [key, row]] of [...rowsFrom(b)].entries())
            if ((i * 37 + some) % 5 === 0) after.set(key, row);
          for (const [i, key] of [...before.keys()].entries())
            if ((i * 53 + some) % 17 === 0 && /^\["(grant|link|member)/.test(key)) after.delete(key);
          const rows = taken(before);
          const reach = new Reach(rows.estate(), TODAY);
          expect(seen(reach)).toEqual(seen(asked(a).reach));
          const changes = between(before, after);
          const quick = changedReach(reach, changes);
          rows.change(changes);
          const anew = new Reach(rows.estate(), TODAY);
          expect(seen(anew)).toEqual(seen(new Reach(taken(after).estate(), TODAY)));
          if (quick) expect(seen(quick)).toEqual(seen(anew));
        },
      ),
      { numRuns: 150 },
    );
  });

  it('are changed by a step as the estate is', () => {
    fc.assert(
      fc.property(arbitraryLines(false), (lines) => {
        const { estate } = asked(lines);
        for (const change of [
          [...cleared(estate, 'p1'), ...closed(estate, 'p1')],
          copied(estate, 'p0', ['p1', 'p2']),
          moved(estate, 'p2', 'p3'),
        ]) {
          const rows = rowsFrom(lines);
          for (const step of change) {
            const key = stepIdentity(step);
            const after = rowAfterStep(step, rows.get(key), { by: 'x', at: '2026-11-30T00:00:00Z' });
            if (after) rows.set(key, after);
            else rows.delete(key);
            expect(isStepDone(step, rows.get(key))).toBe(true);
          }
          expect(seen(new Reach(taken(rows).estate(), TODAY))).toEqual(
            seen(new Reach(changedEstate(estate, change), TODAY)),
          );
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('the marks of places', () => {
  it('count below each what a look at every place counts', () => {
    fc.assert(
      fc.property(arbitraryLines(true), (lines) => {
        const { estate } = asked(lines);
        const marks = new PlaceMarks(estate);
        const { tree } = estate;
        for (const at of tree.places.keys()) {
          const below = tree.places.flatMap((_, b) => (b > at && tree.above(b).includes(at) ? [b] : []));
          const own = below.filter((b) => marks.mark(b) !== 'inherits');
          expect(marks.below(at)).toBe(own.length);
          expect(marks.listBelow(at, 3)).toEqual(own.slice(0, 3));
          const place = tree.places[at];
          const isTop = (tree.parent[at] as number) < 0;
          if (isTop || !place?.inherits) expect(marks.mark(at)).toBe('own');
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('an account of a source of its own', () => {
  const ids = {
    isDirectory: false,
    prefix: '7/',
    isOwn: (id: string) => id.startsWith("'"),
    ownerOf: (id: string) => (id === "'tove'@'%'" ? 'tove' : undefined),
  };
  const person = (id: string, state: 'open' | 'disabled' = 'open') =>
    EstateLine.parse({ type: 'person', id, state }) as EstateRow;

  it.each<[string, EstateRow, readonly object[]]>([
    [
      'of somebody whom the directory knows is a group of that one',
      person("'tove'@'%'"),
      [
        { type: 'group', id: "7/'tove'@'%'" },
        { type: 'member', group: "7/'tove'@'%'", member: 'tove' },
      ],
    ],
    [
      'that is closed holds nobody',
      person("'tove'@'%'", 'disabled'),
      [{ type: 'group', id: "7/'tove'@'%'" }],
    ],
    [
      'of nobody who is known stays a person of its own',
      person("'app'@'%'"),
      [{ type: 'person', id: "7/'app'@'%'" }],
    ],
  ])('%s', (_, row, expected) => {
    expect(globalRow(row, ids)).toMatchObject(expected);
    expect(globalRow(row, ids)).toHaveLength(expected.length);
  });

  it('is told apart from people of the directory where something is given', () => {
    const grant = (to: string) =>
      EstateLine.parse({ type: 'grant', place: 'db', to, strength: 'read' }) as EstateRow;
    expect(globalRow(grant("'app'@'%'"), ids)).toMatchObject([{ place: '7/db', to: "7/'app'@'%'" }]);
    expect(globalRow(grant('tove'), ids)).toMatchObject([{ place: '7/db', to: 'tove' }]);
  });
});

describe('a list of a file', () => {
  const listed = (acl: string[]) =>
    asked([{ type: 'place', id: 'f', source: 's', posix: { is: 'file', uid: 1, gid: 1, acl } }]).estate;
  const plain = ['user::rw-', 'group::r--', 'other::---'];

  it.each<[string, string[], string[], string[], string[] | undefined]>([
    [
      'gets a mask with its first named entry',
      plain,
      [],
      ['user:7:rw-'],
      [...plain, 'user:7:rw-', 'mask::rw-'],
    ],
    ['loses its mask with the last', [...plain, 'user:7:rw-', 'mask::rw-'], ['user:7:rw-'], [], plain],
    [
      'keeps others, and says a second time what is said last',
      [...plain, 'user:7:r--', 'group:9:r--', 'mask::r--'],
      [],
      ['user:7:rwx'],
      [...plain, 'group:9:r--', 'user:7:rwx', 'mask::rwx'],
    ],
    [
      'is as it is where nothing is to go or to come',
      [...plain, 'user:7:r--', 'mask::r--'],
      ['user:8:r--'],
      [],
      undefined,
    ],
    ['keeps what every list has', plain, ['user::rw-', 'other::---'], [], undefined],
  ])('%s', (_, before, take, add, after) => {
    const change = relisted(listed(before), 'f', take, add);
    expect(change.map((s) => s.is === 'list' && [...s.after].sort())).toEqual(
      after ? [[...after].sort()] : [],
    );
    const [step] = change as AccessStep[];
    if (step)
      expect(changedEstate(listed(before), [step]).tree.places[0]?.posix?.acl).toHaveLength(
        after?.length ?? 0,
      );
  });
});

it('the smallest group that holds some people is found, the first by id of several as small', () => {
  const { estate } = asked([
    ...['a', 'b', 'c', 'd'].map((id) => ({ type: 'person', id })),
    { type: 'group', id: 'all', members: ['a', 'b', 'c', 'd'] },
    { type: 'group', id: 'few', members: ['a', 'b'] },
    { type: 'group', id: 'as-few', members: ['a', 'b'] },
  ]);
  const n = (id: string) => estate.people.number(id) ?? -1;
  expect(smallestGroupOf(estate, [n('a')])).toBe('as-few');
  expect(smallestGroupOf(estate, [n('a'), n('c')])).toBe('all');
  expect(smallestGroupOf(estate, [])).toBeUndefined();
  // In whose stead another is looked for is none.
  expect(smallestGroupOf(estate, [n('a')], ['as-few'])).toBe('few');
  expect(smallestGroupOf(estate, [n('a'), n('c')], ['all'])).toBeUndefined();
});
