import { describe, expect, it } from 'vitest';
import { asked, TODAY, type Line } from '../../../../tests/access-estates.ts';
import { PlaceMarks } from '../views/place-marks.ts';
import { breadthOf, type BreadthFinding, type FindingKind } from './breadth.ts';

const people = (n: number, more: Line = {}) =>
  Array.from({ length: n }, (_, i): Line => ({ type: 'person', id: `p${i}`, ...more }));
const place = (id: string, parent: string | null, more: Line = {}): Line => ({
  ...{ type: 'place', id, source: 's', parent },
  ...more,
});
const grant = (at: string, to: string, strength = 'read', more: Line = {}): Line => ({
  ...{ type: 'grant', place: at, to, strength },
  ...more,
});

interface Given {
  /** People with sensitive data, by place. */
  readonly sensitive?: Readonly<Record<string, number>>;
  /** Who used which place on which day. */
  readonly used?: readonly (readonly [place: string, person: string, day: string])[];
}

function found(lines: readonly Line[], { sensitive = {}, used = [] }: Given = {}): readonly BreadthFinding[] {
  const { estate, reach } = asked(lines);
  const at = (id: string) => estate.tree.number(id) ?? -1;
  const uses = new Map<number, Map<number, string>>();
  for (const [spot, person, day] of used) {
    const of = uses.get(at(spot)) ?? new Map<number, string>();
    uses.set(at(spot), of.set(estate.people.number(person) ?? -1, day));
  }
  return breadthOf(reach, new PlaceMarks(estate), {
    exposures: new Map(
      Object.entries(sensitive).map(([id, n]) => [
        at(id),
        { items: n, people: n * 2, sensitive: n, data: [] },
      ]),
    ),
    uses,
    since: '2026-09-01',
  });
}
const of = (kind: FindingKind, all: readonly BreadthFinding[]) => all.filter((f) => f.kind === kind);

describe('what is too broad', () => {
  it('is weighed by who reaches it without having used it in time, times whose sensitive data it exposes', () => {
    const lines = [
      ...people(10),
      place('share', null),
      place('july', 'share', { inherits: false }),
      place('june', 'share'),
      grant('july', 'everyone'),
      grant('share', 'p0', 'change'),
    ];
    const all = found(lines, {
      sensitive: { july: 30, share: 4 },
      used: [
        ['july', 'p1', '2026-11-20'],
        // Too long ago.
        ['july', 'p2', '2026-08-31'],
      ],
    });
    expect(of('exposed', all)).toMatchObject([
      { place: 0, weight: 4, mark: false, counts: { reach: 1, used: 0, sensitive: 4 } },
      {
        place: 1,
        weight: 270,
        mark: true,
        counts: { reach: 10, used: 1, sensitive: 30, people: 60, items: 30 },
      },
    ]);
  });

  it('is no place where nobody’s sensitive data lies, or that all who reach it use', () => {
    const lines = [
      ...people(2),
      place('a', null),
      place('b', null),
      grant('a', 'everyone'),
      grant('b', 'p0'),
    ];
    expect(of('exposed', found(lines, { sensitive: { b: 9 }, used: [['b', 'p0', TODAY]] }))).toEqual([]);
    // Somebody who only sees it reads nothing.
    expect(
      of(
        'exposed',
        found([...people(1), place('a', null), grant('a', 'p0', 'see')], { sensitive: { a: 3 } }),
      ),
    ).toEqual([]);
  });

  it('is a link without end, for anyone the more so', () => {
    const link = (id: string, to: unknown, until: string | null): Line => ({
      type: 'link',
      id,
      place: 'a',
      strength: 'read',
      to,
      until,
    });
    const all = found(
      [
        ...people(4),
        place('a', null),
        link('x', 'anyone', null),
        link('y', ['p1'], null),
        link('z', 'anyone', '2026-12-24'),
      ],
      { sensitive: { a: 5 } },
    );
    expect(of('link without end', all)).toMatchObject([
      { link: 'x', weight: 20, mark: true, counts: { anyone: 1 } },
      { link: 'y', weight: 5, mark: true, counts: { anyone: 0, people: 1 } },
    ]);
    expect(of('exposed', all)[0]).toMatchObject({ mark: true });
  });

  it('is who left with an account that is open, and a guest, where they reach something', () => {
    const all = found(
      [
        { type: 'person', id: 'left', left: '2026-09-30' },
        { type: 'person', id: 'closed', left: '2026-09-30', state: 'disabled' },
        { type: 'person', id: 'leaves', left: '2026-12-31' },
        { type: 'person', id: 'guest', guest: true },
        { type: 'person', id: 'nowhere', guest: true },
        ...[place('a', null), place('b', 'a'), place('c', null)],
        ...['left', 'closed', 'leaves', 'guest'].map((id) => grant('a', id, 'change')),
      ],
      { sensitive: { a: 7, c: 100 } },
    );
    expect(of('leaver', all)).toMatchObject([
      { who: 'left', weight: 9, counts: { places: 2, sensitive: 7, change: 2 } },
    ]);
    expect(of('guest', all)).toMatchObject([{ who: 'guest', mark: true }]);
  });

  it('is a group without people, of one, or that uses nothing it was given where use is known', () => {
    const all = found(
      [
        ...people(4),
        { type: 'group', id: 'none', members: [] },
        { type: 'group', id: 'one', members: ['p0'] },
        { type: 'group', id: 'stale', members: ['p1', 'p2'] },
        { type: 'group', id: 'busy', members: ['p0', 'p3'] },
        { type: 'group', id: 'unknown', members: ['p1', 'p2'] },
        ...[
          place('a', null),
          place('b', null),
          grant('a', 'stale'),
          grant('a', 'busy'),
          grant('b', 'unknown'),
        ],
      ],
      { used: [['a', 'p3', TODAY]] },
    );
    expect(all.filter((f) => f.who).map((f) => [f.kind, f.who])).toEqual([
      ['empty group', 'none'],
      ['group of one', 'one'],
      ['stale group', 'stale'],
    ]);
  });

  it('is what is given to people by name, and what many can give to others who do not own it', () => {
    const all = found([
      ...people(6),
      place('a', null, { owner: 'p0' }),
      ...['p0', 'p1', 'p2', 'p3', 'p4'].map((p) => grant('a', p, 'give')),
      grant('a', 'p5', 'read', { deny: true }),
    ]);
    expect(of('direct grant', all)).toMatchObject([{ counts: { grants: 5 } }]);
    expect(of('gives to others', all)).toMatchObject([{ counts: { givers: 4 } }]);
  });
});
