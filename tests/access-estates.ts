import fc from 'fast-check';
import { EstateReader, type Estate } from '../src/core/access/estate/estate.ts';
import { Reach } from '../src/core/access/reach/reach.ts';
import { STRENGTHS } from '../src/core/access/reach/strength.ts';

export type Line = Readonly<Record<string, unknown>>;
export const TODAY = '2026-11-30';

export function estateOf(lines: readonly Line[]): Estate {
  const reader = new EstateReader();
  for (const line of lines) reader.add(JSON.stringify(line));
  return reader.done();
}

export function asked(lines: readonly Line[], day = TODAY) {
  const estate = estateOf(lines);
  const reach = new Reach(estate, day);
  const person = (id: string) => {
    const found = estate.people.persons[estate.people.number(id) ?? -1];
    if (!found) throw new Error(id);
    return found;
  };
  const place = (id: string) => estate.tree.number(id) ?? -1;
  return {
    estate,
    reach,
    person,
    place,
    pair: (who: string, at: string) => reach.pair(person(who), place(at)),
  };
}

const ids = (prefix: string, n: number) => Array.from({ length: n }, (_, i) => `${prefix}${i}`);
export const PEOPLE = ids('p', 5);
export const GROUPS = ids('g', 5);
export const SPOTS = ids('x', 9);
const strength = fc.constantFrom(...STRENGTHS);
const until = fc.option(fc.constantFrom('2026-11-29', TODAY, '2027-05-01'), { freq: 4 });
const principal = fc.constantFrom(...PEOPLE, ...GROUPS, 'everyone', 'everyone here');
/** Estates of few people, groups and places with much between them; some in rings, some with faults. */
export const arbitraryLines = (gates: boolean) =>
  fc
    .tuple(
      fc.tuple(
        ...PEOPLE.map((id) =>
          fc.record({
            ...{ type: fc.constant('person'), id: fc.constant(id) },
            state: fc.constantFrom('open', 'open', 'open', 'disabled'),
            until,
            guest: fc.boolean(),
            attributes: fc.record({ unit: fc.constantFrom('a', 'b') }),
          }),
        ),
      ),
      fc.tuple(
        ...GROUPS.map((id) =>
          fc.record({
            ...{ type: fc.constant('group'), id: fc.constant(id) },
            members: fc.uniqueArray(fc.constantFrom(...PEOPLE, ...GROUPS, 'nobody'), { maxLength: 3 }),
            where: fc.oneof(
              { weight: 4, arbitrary: fc.constant([]) },
              { weight: 1, arbitrary: fc.constant([{ attribute: 'unit', is: ['a'] }]) },
            ),
          }),
        ),
      ),
      fc.tuple(
        ...SPOTS.map((id, i) =>
          fc.record({
            ...{ type: fc.constant('place'), id: fc.constant(id), source: fc.constant('s') },
            // Sometimes in a ring, or below what is not there.
            parent: fc.option(fc.constantFrom(...SPOTS.slice(0, i), ...SPOTS.slice(0, i), 'x8', 'gone'), {
              freq: 5,
            }),
            inherits: fc.constantFrom(true, true, true, false),
            gate: gates ? fc.constantFrom(false, false, true) : fc.constant(false),
            owner: fc.option(fc.constantFrom(...PEOPLE, ...GROUPS), { freq: 1 }),
            ...(gates
              ? {
                  unknown: fc.oneof(
                    { weight: 9, arbitrary: fc.constant(undefined) },
                    { weight: 1, arbitrary: fc.constant('shut') },
                  ),
                }
              : {}),
          }),
        ),
      ),
      fc.array(
        fc.record({
          ...{
            type: fc.constant('grant'),
            place: fc.constantFrom(...SPOTS),
            to: principal,
            strength,
            until,
          },
          deny: fc.constantFrom(false, false, true),
          only: fc.constantFrom(false, false, true),
        }),
        { maxLength: 10 },
      ),
      fc.array(
        fc.record({
          ...{
            type: fc.constant('link'),
            id: fc.uuid(),
            place: fc.constantFrom(...SPOTS),
            strength,
            until,
          },
          to: fc.oneof(
            fc.constant('anyone'),
            fc.constant('everyone here'),
            fc.uniqueArray(fc.constantFrom(...PEOPLE, ...GROUPS), { minLength: 1, maxLength: 2 }),
          ),
        }),
        { maxLength: 3 },
      ),
    )
    .map((parts): Line[] => parts.flat());

/** Groups in one ring, with one person in one of them. */
export function hugeRing(n: number, person: string) {
  return {
    groups: Array.from({ length: n }, (_, i) => ({
      ...{ id: `r${i}`, displayName: `Ring ${i}` },
      members: [{ value: `r${(i + 1) % n}` }, ...(i === 7 ? [{ value: person }] : [])],
    })),
  };
}
