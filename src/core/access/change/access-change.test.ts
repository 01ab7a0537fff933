import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryLines, asked, GROUPS, PEOPLE, SPOTS, type Line } from '../../../../tests/access-estates.ts';
import type { Estate } from '../estate/estate.ts';
import { Reach } from '../reach/reach.ts';
import { STRENGTHS } from '../reach/strength.ts';
import { AccessStep, changedEstate, undone, type AccessChange } from './access-change.ts';
import { countsOf, rehearsed } from './access-rehearsal.ts';
import { broken, cleared, copied, givenTo, moved, narrowed, restored } from './composed-changes.ts';

const day = '2026-11-30';

/** What everybody can do everywhere. */
function everywhere(estate: Estate): Readonly<Record<string, number>> {
  const reach = new Reach(estate, day);
  return Object.fromEntries(
    estate.people.persons.flatMap((p) =>
      estate.tree.places.map((place, at) => [`${p.id} ${place.id}`, reach.pair(p, at).steps] as const),
    ),
  );
}

/** All that is written, in no order. */
function written({ people, tree, grants, links }: Estate) {
  const sorted = (of: readonly unknown[]) => of.map((o) => JSON.stringify(o)).sort();
  return {
    grants: sorted([...grants.values()].flat()),
    links: sorted([...links.values()].flat()),
    groups: people.groups.map((g) => ({ ...g, members: g.members.toSorted() })),
    places: tree.places,
  };
}

const grant = (place: string, to: string, more: Line = {}) => ({
  ...{ type: 'grant', place, to, strength: 'read', deny: false, until: null, by: null, at: null },
  ...more,
});
const step = (of: Line) => AccessStep.parse(of);

describe('a change of access', () => {
  const LINES: readonly Line[] = [
    { type: 'person', id: 'karl' },
    { type: 'person', id: 'amira' },
    { type: 'person', id: 'lotte' },
    { type: 'group', id: 'clerks', members: ['karl'] },
    { type: 'place', id: 'port', source: 's', owner: 'karl' },
    { type: 'place', id: 'july', source: 's', parent: 'port' },
    { type: 'grant', place: 'port', to: 'everyone', strength: 'read' },
    { type: 'grant', place: 'july', to: 'clerks', strength: 'change' },
    { type: 'grant', place: 'july', to: 'karl', strength: 'give' },
    { type: 'link', id: 'l', place: 'july', strength: 'see', to: ['karl', 'lotte'] },
  ];

  it.each<readonly [string, Line, RegExp]>([
    [
      'takes a grant that is not there',
      { is: 'grant', act: 'take', grant: grant('july', 'lotte') },
      /grant of read to “lotte” at “july” is not there/,
    ],
    ['adds one that is', { is: 'grant', act: 'add', grant: grant('port', 'everyone') }, /is there already/],
    [
      'names a place that is not there',
      { is: 'grant', act: 'add', grant: grant('nowhere', 'lotte') },
      /There is no place “nowhere”/,
    ],
    [
      'adds who is in a group',
      { is: 'member', act: 'add', group: 'clerks', member: 'karl' },
      /“karl” is in “clerks” already/,
    ],
    [
      'takes who is not',
      { is: 'member', act: 'take', group: 'clerks', member: 'lotte' },
      /“lotte” is not in “clerks” already/,
    ],
    [
      'names a group that is not there',
      { is: 'member', act: 'add', group: 'x', member: 'lotte' },
      /There is no group “x”/,
    ],
    [
      'ends an inheritance that has ended',
      { is: 'inherits', place: 'july', before: false, after: true },
      /“july” inherits already/,
    ],
    [
      'takes a place from who does not own it',
      { is: 'owner', place: 'port', before: 'lotte', after: null },
      /The owner of “port” is karl, and not lotte/,
    ],
  ])('that %s does not fit', (_, of, words) => {
    expect(() => changedEstate(asked(LINES).estate, [step(of)])).toThrow(words);
  });

  it('takes away whole what was written twice', () => {
    const { estate } = asked([
      ...LINES,
      { type: 'grant', place: 'july', to: 'karl', strength: 'give', by: 'magnus' },
    ]);
    const change = cleared(estate, 'karl');
    expect(change.filter((s) => s.is === 'grant')).toHaveLength(1);
    const after = changedEstate(estate, change);
    expect(written(changedEstate(after, undone(change)))).toEqual(written(estate));
  });

  it('copies to others what somebody has by their own name, and not what is denied or owned', () => {
    const { estate } = asked(LINES);
    const after = changedEstate(estate, copied(estate, 'karl', ['amira', 'amira', 'karl']));
    expect(givenTo(after, 'amira')).toMatchObject({
      grants: [{ place: 'july', strength: 'give' }],
      links: [{ id: 'l', to: ['karl', 'lotte', 'amira'] }],
      groups: ['clerks'],
      owned: [],
    });
    expect(givenTo(after, 'karl')).toMatchObject({ groups: ['clerks'], owned: ['port'] });
    // Done twice, nothing is left to do.
    expect(copied(after, 'karl', ['amira'])).toEqual([]);
  });

  it('clears a leaver everywhere, and touches nobody else', () => {
    const { estate } = asked(LINES);
    const after = changedEstate(estate, cleared(estate, 'karl'));
    expect(givenTo(after, 'karl')).toEqual({ grants: [], links: [], groups: [], owned: [] });
    const { pair } = {
      pair: (who: string) =>
        new Reach(after, day).pair(
          after.people.persons[after.people.number(who) ?? 0] as never,
          after.tree.number('july') ?? 0,
        ),
    };
    expect([pair('karl').strength, pair('lotte').strength]).toEqual(['read', 'read']);
    expect(pair('lotte').ways.map((w) => w.is)).toContain('link');
  });

  it('moves all of it, with what is owned', () => {
    const { estate } = asked(LINES);
    const after = changedEstate(estate, moved(estate, 'karl', 'amira'));
    expect(givenTo(after, 'karl')).toEqual({ grants: [], links: [], groups: [], owned: [] });
    expect(givenTo(after, 'amira')).toMatchObject({
      groups: ['clerks'],
      owned: ['port'],
      links: [{ to: ['amira', 'lotte'] }],
    });
    expect(moved(estate, 'karl', 'karl')).toEqual([]);
  });

  it('is rehearsed: who gains, who loses, who keeps it by another way', () => {
    const { reach, estate } = asked([
      ...LINES,
      { type: 'group', id: 'users', members: ['lotte'] },
      { type: 'grant', place: 'port', to: 'amira', strength: 'see' },
    ]);
    const change = narrowed(estate, 'port', 'users');
    expect(change.map((s) => `${s.is} ${'act' in s ? s.act : ''}`)).toEqual(['grant add', 'grant take']);
    const [port] = rehearsed(reach, change).places;
    const names = (set: { first(most: number): number[] } | undefined) =>
      set?.first(9).map((n) => estate.people.persons[n]?.id);
    expect(names(port?.lose)).toEqual(['amira']);
    expect(names(port?.out)).toEqual([]);
    expect(names(port?.gain)).toEqual([]);
    // Karl owns it, Lotte is in the group.
    expect(names(port?.keep)).toEqual(['karl', 'lotte']);
    const amira = estate.people.number('amira') ?? -1;
    expect(countsOf(reach, rehearsed(reach, change), amira)).toEqual({
      before: { see: 0, read: 2, change: 0, give: 0 },
      after: { see: 2, read: 0, change: 0, give: 0 },
    });
  });
});

describe('any change of any estate', () => {
  const arbitraryStep = fc.oneof(
    fc.record({
      ...{ is: fc.constant('grant'), act: fc.constantFrom('add', 'take') },
      grant: fc
        .tuple(
          fc.constantFrom(...SPOTS),
          fc.constantFrom(...PEOPLE, ...GROUPS, 'everyone'),
          fc.constantFrom(...STRENGTHS),
          fc.boolean(),
        )
        .map(([place, to, strength, deny]) => grant(place, to, { strength, deny })),
    }),
    fc.record({
      ...{ is: fc.constant('member'), act: fc.constantFrom('add', 'take') },
      ...{ group: fc.constantFrom(...GROUPS), member: fc.constantFrom(...PEOPLE, ...GROUPS) },
    }),
    fc
      .record({ is: fc.constant('inherits'), place: fc.constantFrom(...SPOTS), before: fc.boolean() })
      .map((s) => ({ ...s, after: !s.before })),
    fc.record({
      is: fc.constant('owner'),
      place: fc.constantFrom(...SPOTS),
      before: fc.constantFrom(...PEOPLE, null),
      after: fc.constantFrom(...PEOPLE, null),
    }),
    fc
      .record({ is: fc.constant('account'), person: fc.constantFrom(...PEOPLE), opens: fc.boolean() })
      .map(({ opens, ...s }) => ({
        ...s,
        ...(opens ? { before: 'disabled', after: 'open' } : { before: 'open', after: 'disabled' }),
      })),
  );
  /** Those of some steps that fit one after the other, and some acts of the desk among them. */
  const fitting = (estate: Estate, wished: readonly Line[]): AccessChange => {
    let now = estate;
    const change: AccessStep[] = [];
    for (const one of wished)
      try {
        const of = step(one);
        now = changedEstate(now, [of]);
        change.push(of);
      } catch (error) {
        if (!(error instanceof RangeError)) throw error;
      }
    return change;
  };
  const composed = (estate: Estate): readonly AccessChange[] => [
    cleared(estate, 'p1'),
    copied(estate, 'p0', ['p1', 'p2']),
    moved(estate, 'p2', 'p3'),
    broken(estate, 'x4', true),
    broken(estate, 'x5', false),
    restored(estate, 'x6'),
    narrowed(estate, 'x1', 'g2'),
  ];

  it('followed by its undo leaves everything written and reached as it was, and is rehearsed as it comes', () => {
    fc.assert(
      fc.property(arbitraryLines(true), fc.array(arbitraryStep, { maxLength: 8 }), (lines, wished) => {
        const { estate, reach } = asked(lines);
        const before = everywhere(estate);
        for (const change of [fitting(estate, wished as Line[]), ...composed(estate)]) {
          const after = changedEstate(estate, change);
          const back = changedEstate(after, undone(change));
          expect(written(back)).toEqual(written(estate));
          expect(everywhere(back)).toEqual(before);
          // Who gains or loses anywhere is who gains or loses at a place that the change touches.
          const told = rehearsed(reach, change);
          const then = everywhere(after);
          // What was taken over from before is what would be read anew.
          const anew = new Reach(after, day);
          for (const p of after.people.persons)
            expect(told.after.ofPerson(p, 99), p.id).toEqual(anew.ofPerson(p, 99));
          expect(told.after.placesOpenToAnyone()).toEqual(anew.placesOpenToAnyone());
          for (const [n, { id }] of estate.people.persons.entries()) {
            const steps = estate.tree.places.map(
              (p) => [before[`${id} ${p.id}`] ?? 0, then[`${id} ${p.id}`] ?? 0] as const,
            );
            const dark = estate.tree.places.some(
              (_, at) => reach.unknownAt(at) !== null || told.after.unknownAt(at) !== null,
            );
            if (dark) continue;
            expect(told.lose.has(n), `${id} loses`).toBe(steps.some(([was, is]) => (was & ~is) !== 0));
            expect(told.gain.has(n), `${id} gains`).toBe(steps.some(([was, is]) => (is & ~was) !== 0));
          }
        }
      }),
      { numRuns: 100 },
    );
  });

  it('that clears or moves leaves nothing of somebody, and others as they were; that copies gives all of it where nothing denies', () => {
    fc.assert(
      fc.property(arbitraryLines(false), (lines) => {
        const { estate } = asked(lines);
        const before = everywhere(estate);
        const without = changedEstate(estate, cleared(estate, 'p1'));
        expect(givenTo(without, 'p1')).toEqual({ grants: [], links: [], groups: [], owned: [] });
        const then = everywhere(without);
        for (const key of Object.keys(before))
          if (!key.startsWith('p1 ')) expect(then[key], key).toBe(before[key]);
        expect(givenTo(changedEstate(estate, moved(estate, 'p2', 'p3')), 'p2')).toEqual({
          grants: [],
          links: [],
          groups: [],
          owned: [],
        });
        const free = asked(
          lines
            .filter((l) => l['deny'] !== true)
            .map((l): Line => ({
              ...l,
              ...(l['type'] === 'person' ? { guest: false, state: 'open', until: null } : {}),
              ...(l['type'] === 'group' ? { where: [] } : {}),
              ...(l['type'] === 'place' ? { owner: null } : {}),
            })),
        ).estate;
        const all = everywhere(changedEstate(free, copied(free, 'p0', ['p1'])));
        const was = everywhere(free);
        for (const { id } of free.tree.places)
          expect((all[`p1 ${id}`] ?? 0) & (was[`p0 ${id}`] ?? 0), id).toBe(was[`p0 ${id}`]);
        // With nothing denied, an inheritance that ends with all kept changes nothing.
        expect(everywhere(changedEstate(free, broken(free, 'x4', true)))).toEqual(was);
      }),
      { numRuns: 100 },
    );
  });
});
