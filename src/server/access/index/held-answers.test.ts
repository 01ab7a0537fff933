import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryLines, asked, PEOPLE, type Line } from '../../../../tests/access-estates.ts';
import { runs } from '../../../../tests/property-runs.ts';
import { isOpen, leftBefore } from '../../../core/access/estate/people.ts';
import { PlaceMarks } from '../../../core/access/views/place-marks.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { firmReach, heldReach } from './held-answers.ts';

/** An estate whose places lie in one source of Holdings, below it by their ids. */
function viewOf(lines: readonly Line[], uses: EstateView['uses'] = new Map()): EstateView {
  const { estate, reach } = asked(lines);
  const { tree, people } = estate;
  const holds = new Map(
    tree.places.map((p, at) => [
      p.id,
      ['1', ...tree.above(at).toReversed(), at]
        .map((n) => (typeof n === 'number' ? (tree.places[n]?.id ?? '') : n))
        .join('/'),
    ]),
  );
  return {
    ...{ estate, reach, revision: 1, holds, uses, marks: new PlaceMarks(estate) },
    places: new Map(tree.places.map((p, at) => [idKey(p.id), at])),
    principals: new Map([...people.persons, ...people.groups].map((p) => [idKey(p.id), p.id])),
  };
}

/** One person and one place after the other. */
function slowly(view: EstateView, lies: string) {
  const { estate, reach } = view;
  const below = estate.tree.places.flatMap((p, at) => {
    const here = view.holds.get(p.id) ?? '';
    const isIn = here === lies || here.startsWith(`${lies}/`);
    return isIn && reach.unknownAt(at) === null ? [at] : [];
  });
  const who = estate.people.persons.filter((p) =>
    below.some((at) => isOpen(p, reach.day) && reach.pair(p, at).strength !== null),
  );
  return {
    people: who.length,
    guests: who.filter((p) => p.guest).length,
    leavers: who.filter((p) => leftBefore(p, reach.day) !== null).length,
  };
}

const PERSON = (id: string, more: Line = {}): Line => ({ type: 'person', id, ...more });
const PLACE = (id: string, parent: string | null, more: Line = {}): Line => ({
  ...{ type: 'place', id, source: 's', parent, name: id },
  ...more,
});
const GRANT = (place: string, to: string): Line => ({ type: 'grant', place, to, strength: 'read' });
const SMALL = [
  PERSON('ana', { mail: 'ana@line.example' }),
  PERSON('gita', { mail: 'Gita@Support.Wave.example', guest: true }),
  PERSON('left', { mail: 'left@line.example', left: '2026-10-01' }),
  PERSON('shut', { mail: 'shut@wave.example', state: 'disabled' }),
  PERSON('near', { mail: 'near@microwave.example' }),
  PLACE('share', null),
  PLACE('crew', 'share'),
  PLACE('pay', 'crew', { inherits: false }),
  GRANT('share', 'ana'),
  GRANT('crew', 'gita'),
  GRANT('pay', 'left'),
  { type: 'link', id: 'l1', place: 'pay', to: 'anyone', strength: 'read' },
];

describe('who reaches what lies somewhere', () => {
  it('counts whoever reaches it or anything below, as one by one', () => {
    fc.assert(
      fc.property(arbitraryLines(true), (lines) => {
        const view = viewOf(lines as readonly Line[]);
        const all = [...new Set(view.holds.values())];
        for (const of of heldReach(view, all))
          expect({ people: of.people, guests: of.guests, leavers: of.leavers }, of.lies).toEqual(
            slowly(view, of.lies),
          );
      }),
      runs(60),
    );
  });

  it('takes the nearest place above whose rights are known, and says where none are', () => {
    const view = viewOf(SMALL);
    const [file, other] = heldReach(view, ['1/share/crew/lists/today.xlsx', '2/share']);
    expect(file).toMatchObject({ key: idKey('crew'), people: 3, guests: 1, leavers: 1, anyone: true });
    expect(other).toEqual({
      ...{ lies: '2/share', key: null, people: 0, guests: 0, leavers: 0, used: null, anyone: false },
      unknown: null,
    });
  });

  it('tells who used it lately, and nothing where nobody tells of uses', () => {
    expect(heldReach(viewOf(SMALL), ['1/share'])[0]?.used).toBeNull();
    const uses = new Map([
      [
        0,
        new Map([
          [0, '2026-11-20'],
          [1, '2026-03-01'],
        ]),
      ],
    ]);
    expect(heldReach(viewOf(SMALL, uses), ['1/share'])[0]?.used).toBe(1);
  });
});

describe('what a firm reaches', () => {
  it('is what open accounts at its domains reach, or below those', () => {
    const view = viewOf(SMALL);
    const found = firmReach(view, ['wave.example']);
    expect(found.accounts).toEqual([{ key: idKey('gita'), name: 'Gita@Support.Wave.example' }]);
    expect(found).toMatchObject({ accountCount: 1, places: 1 });
    // What lies in the crew’s place, and not what is closed to them below it.
    expect(found.regions).toEqual([
      [0, '1/share/crew'],
      [1, '1/share/crew/pay'],
    ]);
    expect(firmReach(view, ['none.example'])).toEqual({
      ...{ accounts: [], accountCount: 0, places: 0, regions: [] },
    });
  });

  it('says of each place, by the nearest that is named, whether it is reached', () => {
    fc.assert(
      fc.property(arbitraryLines(true), fc.subarray(PEOPLE, { minLength: 1 }), (lines, ours) => {
        const mailed = (lines as readonly Line[]).map((l) =>
          l['type'] === 'person'
            ? { ...l, mail: `${String(l['id'])}@${ours.includes(String(l['id'])) ? 'firm' : 'line'}.example` }
            : l,
        );
        const view = viewOf(mailed);
        const { regions, places } = firmReach(view, ['firm.example']);
        const named = new Map(regions.map(([closed, lies]) => [lies, closed]));
        let reached = 0;
        view.estate.tree.places.forEach((p, at) => {
          // Of what its source tells nothing, nothing is said.
          if (view.reach.unknownAt(at) !== null) return;
          const isReached = view.estate.people.persons.some(
            (who) =>
              ours.includes(who.id) &&
              isOpen(who, view.reach.day) &&
              view.reach.pair(who, at).strength !== null,
          );
          if (isReached) reached++;
          let here = view.holds.get(p.id) ?? '';
          while (here !== '' && !named.has(here)) here = here.split('/').slice(0, -1).join('/');
          expect(named.get(here) === 0, p.id).toBe(isReached);
        });
        expect(places).toBe(reached);
      }),
      runs(60),
    );
  });
});
