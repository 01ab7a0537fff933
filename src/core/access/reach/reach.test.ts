import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryLines, asked, PEOPLE, TODAY, type Line } from '../../../../tests/access-estates.ts';
import { EstateReader, type Estate } from '../estate/estate.ts';
import { EstateLine } from '../estate/estate-line.ts';
import { highest, STRENGTHS, upTo, type Strength } from './strength.ts';

const person = (id: string, more: Line = {}) => ({ type: 'person', id, ...more });
const group = (id: string, ...members: readonly string[]) => ({ type: 'group', id, members });
const place = (id: string, parent: string | null = null, more: Line = {}) => ({
  ...{ type: 'place', id, source: 's', parent },
  ...more,
});
const grant = (at: string, to: string, strength: Strength, more: Line = {}) => ({
  ...{ type: 'grant', place: at, to, strength },
  ...more,
});
const PLACES = [
  place('share'),
  place('july', 'share'),
  place('berth', 'july'),
  place('shut', 'share', { inherits: false }),
];

describe('what somebody can do at a place', () => {
  it.each<readonly [string, readonly Line[], string, Strength | null]>([
    ['is nothing where nothing is granted', [], 'july', null],
    ['is what is granted there', [grant('july', 'tove', 'change')], 'july', 'change'],
    ['is what is granted above', [grant('share', 'tove', 'read')], 'berth', 'read'],
    ['is not what is granted below', [grant('berth', 'tove', 'read')], 'july', null],
    [
      'is not what is granted above one that inherits nothing',
      [grant('share', 'tove', 'read')],
      'shut',
      null,
    ],
    [
      'is the most that is granted',
      [grant('share', 'tove', 'read'), grant('july', 'tove', 'change')],
      'berth',
      'change',
    ],
    [
      'stays the most where less is granted nearer by',
      [grant('share', 'tove', 'change'), grant('july', 'tove', 'read')],
      'july',
      'change',
    ],
    ['is by a group', [group('clerks', 'tove'), grant('july', 'clerks', 'read')], 'july', 'read'],
    [
      'is by a group in a group in a ring',
      [group('a', 'b', 'c'), group('b', 'a'), group('c', 'tove'), grant('july', 'b', 'read')],
      'july',
      'read',
    ],
    ['is by everyone', [grant('july', 'everyone', 'see')], 'july', 'see'],
    [
      'is denied at the same place',
      [grant('july', 'tove', 'change'), grant('july', 'everyone', 'change', { deny: true })],
      'july',
      'read',
    ],
    [
      'is denied nearer by',
      [grant('share', 'tove', 'give'), grant('july', 'tove', 'read', { deny: true })],
      'berth',
      'see',
    ],
    [
      'is given nearer by than it is denied',
      [grant('share', 'tove', 'see', { deny: true }), grant('july', 'tove', 'read')],
      'berth',
      'read',
    ],
    [
      'is its owner’s whatever is denied',
      [place('july', 'share', { owner: 'tove' }), grant('july', 'tove', 'see', { deny: true })],
      'berth',
      'give',
    ],
    [
      'is by a link whatever is denied',
      [
        { type: 'link', id: 'l', place: 'july', strength: 'read', to: ['tove'] },
        grant('july', 'tove', 'see', { deny: true }),
      ],
      'berth',
      'read',
    ],
    [
      'is nobody’s in person by a link for anyone',
      [{ type: 'link', id: 'l', place: 'july', strength: 'read', to: 'anyone' }],
      'july',
      null,
    ],
    ['ends with its last day', [grant('july', 'tove', 'read', { until: '2026-11-29' })], 'july', null],
    ['counts on its last day', [grant('july', 'tove', 'read', { until: TODAY })], 'july', 'read'],
    [
      'is by a group that a condition describes',
      [
        { type: 'group', id: 'port', where: [{ attribute: 'unit', is: ['Port'] }] },
        grant('july', 'port', 'read'),
      ],
      'july',
      'read',
    ],
    [
      'is stopped by a gate above',
      [place('july', 'share', { gate: true }), grant('berth', 'tove', 'read')],
      'berth',
      null,
    ],
    [
      'is not stopped by a gate that is seen',
      [place('july', 'share', { gate: true }), grant('july', 'tove', 'see'), grant('berth', 'tove', 'read')],
      'berth',
      'read',
    ],
  ])('%s', (_, lines, at, strength) => {
    const {
      pair,
      reach,
      place: placeOf,
      estate,
      person: who,
    } = asked([person('tove', { attributes: { unit: 'Port' } }), ...PLACES, ...lines]);
    const found = pair('tove', at);
    expect(found.strength).toBe(strength);
    // Ladders have no rung missing but in file systems.
    expect(found.steps).toBe(strength === null ? 0 : upTo(strength));
    const sets = reach.whoReaches(placeOf(at));
    const n = estate.people.number('tove') ?? -1;
    expect(STRENGTHS.filter((_s, i) => sets[i]?.has(n)).at(-1) ?? null).toBe(strength);
    expect(reach.ofPerson(who('tove'), 100).first.find((f) => f.place === placeOf(at))?.steps ?? 0).toBe(
      found.steps,
    );
  });

  it('is nothing with an account that is not open, though the ways are told', () => {
    for (const more of [{ state: 'disabled' }, { until: '2026-09-30' }]) {
      const found = asked([person('karl', more), ...PLACES, grant('july', 'karl', 'change')]).pair(
        'karl',
        'july',
      );
      expect(found).toMatchObject({ strength: null, closed: true, ways: [{ strength: 'change' }] });
    }
    // Who left, and has an account still, reaches what they reached.
    const left = asked([person('karl', { left: '2026-09-30' }), ...PLACES, grant('july', 'karl', 'change')]);
    expect(left.pair('karl', 'july')).toMatchObject({ strength: 'change', closed: false });
  });

  it('is told with every way, the chain of groups, and what denied', () => {
    const found = asked([
      person('amira'),
      ...PLACES,
      group('trainees', 'amira'),
      group('clerks', 'trainees'),
      grant('july', 'clerks', 'change', { by: 'magnus' }),
      grant('share', 'everyone', 'give'),
      grant('july', 'trainees', 'give', { deny: true }),
      { type: 'link', id: 'l1', place: 'berth', strength: 'see', to: 'everyone here', until: '2027-01-01' },
    ]).pair('amira', 'berth');
    expect(found.strength).toBe('change');
    expect(found.ways).toEqual([
      {
        is: 'link',
        strength: 'see',
        at: 'berth',
        through: [],
        to: 'everyone here',
        id: 'l1',
        until: '2027-01-01',
        beaten: false,
      },
      {
        is: 'grant',
        strength: 'change',
        at: 'july',
        through: ['trainees', 'clerks'],
        to: 'clerks',
        until: null,
        beaten: false,
      },
      { is: 'grant', strength: 'give', at: 'share', through: [], to: 'everyone', until: null, beaten: true },
    ]);
    expect(found.denials).toEqual([{ step: 'give', at: 'july', to: 'trainees', through: ['trainees'] }]);
  });

  it('is unknown, and not no, where its source does not tell', () => {
    const {
      pair,
      reach,
      person: who,
    } = asked([
      person('tove'),
      ...PLACES,
      place('july', 'share', { unknown: 'the list could not be read' }),
      grant('share', 'tove', 'read'),
    ]);
    expect(pair('tove', 'berth')).toMatchObject({ unknown: 'the list could not be read' });
    expect(pair('tove', 'share')).toMatchObject({ unknown: null, strength: 'read' });
    expect(reach.ofPerson(who('tove'), 10)).toMatchObject({ unknown: 2, counts: { read: 1 } });
  });

  it('lists links that anyone may have, the strongest first', () => {
    const link = (id: string, at: string, strength: Strength, until: string | null = null) => ({
      ...{ type: 'link', id, place: at, strength, to: 'anyone', until },
    });
    const { reach, place: at } = asked([
      ...PLACES,
      link('a', 'share', 'read'),
      link('b', 'july', 'change'),
      link('c', 'july', 'give', '2020-01-01'),
    ]);
    expect(reach.openToAnyone(at('berth')).map((l) => l.id)).toEqual(['b', 'a']);
    expect(reach.openToAnyone(at('shut'))).toEqual([]);
  });
});

describe('any estate', () => {
  /** Reads the estate as it is written, one question after the other. */
  function slowly(all: readonly Line[], tree: Estate['tree']) {
    const parsed = all.map((l) => EstateLine.parse(JSON.parse(JSON.stringify(l))));
    const isIn = (who: string, principal: string, seen: readonly string[] = []): boolean => {
      const person = parsed.find((l) => l.type === 'person' && l.id === who);
      if (person?.type !== 'person') return false;
      if (principal === who || principal === 'everyone') return true;
      if (principal === 'everyone here') return !person.guest;
      const found = parsed.find((l) => l.type === 'group' && l.id === principal);
      if (found?.type !== 'group' || seen.includes(principal)) return false;
      if (
        found.where.length > 0 &&
        found.where.every((w) => w.is.includes(person.attributes[w.attribute] ?? ''))
      )
        return true;
      return found.members.some((m) => m === who || isIn(who, m, [...seen, principal]));
    };
    const lineOf = (at: string) => parsed.findLast((l) => l.type === 'place' && l.id === at);
    // Where rings are cut is the tree’s own affair.
    const parentOf = (at: string) => {
      const n = tree.number(at) ?? -1;
      const up = tree.parent[n] ?? -1;
      return up < 0 ? undefined : tree.places[up]?.id;
    };
    const chainOf = (at: string): readonly string[] => {
      const line = lineOf(at);
      const up = parentOf(at);
      return line?.type === 'place' && line.inherits && up !== undefined ? [at, ...chainOf(up)] : [at];
    };
    const aboveOf = (at: string): readonly string[] => {
      const up = parentOf(at);
      return up === undefined ? [] : [up, ...aboveOf(up)];
    };
    const isDark = (at: string): boolean =>
      chainOf(at).some((p) => {
        const l = lineOf(p);
        return l?.type === 'place' && l.unknown !== undefined;
      }) ||
      aboveOf(at).some((up) => {
        const l = lineOf(up);
        return l?.type === 'place' && l.gate && isDark(up);
      });
    const current = (l: { readonly until: string | null }) => l.until === null || l.until >= TODAY;
    const can = (who: string, at: string, step: number): boolean => {
      for (const up of aboveOf(at)) {
        const line = lineOf(up);
        if (line?.type === 'place' && line.gate && !isDark(up) && !can(who, up, 0)) return false;
      }
      const chain = chainOf(at);
      for (const p of chain) {
        const line = lineOf(p);
        if (line?.type === 'place' && line.owner !== null && isIn(who, line.owner)) return true;
        for (const l of parsed)
          if (
            l.type === 'link' &&
            l.place === p &&
            current(l) &&
            l.to !== 'anyone' &&
            STRENGTHS.indexOf(l.strength) >= step
          )
            if ((typeof l.to === 'string' ? [l.to] : l.to).some((to) => isIn(who, to))) return true;
      }
      for (const p of chain) {
        const here = parsed.filter(
          (l) => l.type === 'grant' && l.place === p && current(l) && isIn(who, l.to),
        );
        const covers = (deny: boolean) =>
          here.some((l) => {
            if (l.type !== 'grant' || l.deny !== deny) return false;
            const at = STRENGTHS.indexOf(l.strength);
            if (deny) return at <= step;
            return l.only ? at === step || step === 0 : at >= step;
          });
        if (covers(true)) return false;
        if (covers(false)) return true;
      }
      return false;
    };
    const isOpen = (who: string) => {
      const p = parsed.find((l) => l.type === 'person' && l.id === who);
      return p?.type === 'person' && p.state === 'open' && (p.until === null || p.until >= TODAY);
    };
    return { can, isOpen, isDark };
  }

  it.each([false, true])(
    'is reached as a slow reading says, from all three sides (gates and unknown: %s)',
    (gates) => {
      fc.assert(
        fc.property(arbitraryLines(gates), fc.integer({ min: 1, max: 4 }), (all, size) => {
          const { estate, reach, person: who } = asked(all);
          const slow = slowly(all, estate.tree);
          for (const p of PEOPLE) {
            const counts: Record<string, number> = { see: 0, read: 0, change: 0, give: 0 };
            const listed: string[] = [];
            let dark = 0;
            for (const [at, { id }] of estate.tree.places.entries()) {
              const wanted = STRENGTHS.reduce(
                (sum, _, i) => sum | (slow.isOpen(p) && slow.can(p, id, i) ? 1 << i : 0),
                0,
              );
              const found = reach.pair(who(p), at);
              expect(found.unknown !== null, `${p} ${id}`).toBe(slow.isDark(id));
              expect(found.steps, `${p} ${id}`).toBe(wanted);
              const n = estate.people.number(p) ?? -1;
              const sets = reach.whoReaches(at);
              if (!slow.isDark(id))
                expect(
                  STRENGTHS.reduce((sum, _, i) => sum | (sets[i]?.has(n) ? 1 << i : 0), 0),
                  `${p} ${id}`,
                ).toBe(wanted);
              if (!slow.isOpen(p)) continue;
              if (slow.isDark(id)) dark++;
              else if (wanted > 0) {
                counts[highest(wanted) ?? '']!++;
                listed.push(`${id} ${wanted}`);
              }
            }
            // Page by page, and all counted on each.
            const pages: string[] = [];
            for (let from: number | null = 0; from !== null;) {
              const page = reach.ofPerson(who(p), size, from);
              expect([page.counts, page.unknown]).toEqual([counts, dark]);
              pages.push(...page.first.map((f) => `${estate.tree.places[f.place]?.id} ${f.steps}`));
              from = page.next;
            }
            expect(pages).toEqual(listed);
          }
        }),
        { numRuns: 100 },
      );
    },
  );
});

describe('bad input', () => {
  it('of ten thousand groups in a ring is read like any other', () => {
    const n = 10_000;
    const ring = Array.from({ length: n }, (_, i) => group(`g${i}`, `g${(i + 1) % n}`));
    const {
      pair,
      reach,
      place: at,
    } = asked([
      person('tove'),
      ...ring,
      group('in', 'tove'),
      { type: 'group', id: 'g7', members: ['g8', 'in'] },
      ...PLACES,
      grant('july', 'g9', 'read'),
    ]);
    expect(pair('tove', 'july').strength).toBe('read');
    expect(reach.whoReaches(at('july'))[1]?.size).toBe(1);
  });

  it('of places below themselves is told, and nothing is lost', () => {
    const { estate, pair } = asked([
      person('tove'),
      place('a', 'b'),
      place('b', 'c'),
      place('c', 'a'),
      place('self', 'self'),
      place('under', 'b'),
      grant('a', 'tove', 'read'),
    ]);
    expect(estate.faults.map((f) => f.words).join()).toMatch(/“a”, “b”, “c”, “self” lie below themselves/);
    expect(estate.tree.places).toHaveLength(5);
    expect(pair('tove', 'under').strength).toBe('read');
  });

  it.each<readonly [string, RegExp]>([
    ['not json', /^It is no JSON/],
    ['{"type":"person"}', /^id: /],
    ['{"type":"person","id":"everyone"}', /^id: This word means all people here/],
    ['{"type":"grant","place":"x","to":"tove","strength":"own"}', /^strength: /],
    ['{"type":"grant","place":"nowhere","to":"tove","strength":"read"}', /^There is no place “nowhere”/],
    ['{"type":"grant","place":"share","to":"nobody","strength":"read"}', /^Nobody is called “nobody”/],
    [
      '{"type":"link","id":"l","place":"share","to":["nobody"],"strength":"read"}',
      /^Nobody is called “nobody”/,
    ],
    ['{"type":"group","id":"tove"}', /^“tove” is a person and a group/],
    [
      '{"type":"place","id":"y","source":"s","posix":{"is":"file","uid":1,"gid":1}}',
      /Either a mode or a list/,
    ],
    ['{"type":"ship","id":"y"}', /^type: /],
  ])('of “%s” is told by its line, and the others count', (text, words) => {
    const reader = new EstateReader();
    reader.add(JSON.stringify(person('tove')));
    reader.add(text);
    reader.add('');
    reader.add(JSON.stringify(place('share')));
    const { faults, tree, people } = reader.done();
    expect(faults).toHaveLength(1);
    expect(faults[0]).toMatchObject({ line: 2, words: expect.stringMatching(words) as string });
    expect([tree.number('share'), people.number('tove')]).toEqual([0, 0]);
  });
});
