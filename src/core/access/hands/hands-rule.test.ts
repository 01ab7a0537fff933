import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryLines, asked, GROUPS, PEOPLE, SPOTS } from '../../../../tests/access-estates.ts';
import { changedEstate } from '../change/access-change.ts';
import { copied } from '../change/composed-changes.ts';
import { Reach } from '../reach/reach.ts';
import { STRENGTHS } from '../reach/strength.ts';
import { newlyBoth, whoHasBoth, type HandsSide } from './hands-rule.ts';

const side = fc.oneof(
  fc.record({ is: fc.constant('group' as const), group: fc.constantFrom(...GROUPS, 'nobody') }),
  fc.record({
    is: fc.constant('place' as const),
    place: fc.constantFrom(...SPOTS, 'nowhere'),
    strength: fc.constantFrom(...STRENGTHS),
  }),
);

describe('two pairs of hands', () => {
  it('are those that each pair alone says have both, before and after a change', () => {
    fc.assert(
      fc.property(arbitraryLines(false), side, side, (lines, one, other) => {
        const { estate, reach, person } = asked(lines);
        const slow = (of: Reach, id: string, { ...s }: HandsSide): boolean => {
          const p = of.estate.people.persons[of.estate.people.number(id) ?? -1];
          if (!p) return false;
          if (s.is === 'group')
            return (
              p.state === 'open' &&
              (p.until === null || p.until >= of.day) &&
              of.estate.people.principalsOf(p).has(s.group)
            );
          const at = of.estate.tree.number(s.place);
          if (at === undefined) return false;
          return of.pair(p, at).steps >> STRENGTHS.indexOf(s.strength) > 0;
        };
        const named = (of: Reach, set: ReturnType<typeof whoHasBoth>) =>
          set.first(99).map((n) => of.estate.people.persons[n]?.id);
        const both = (of: Reach) =>
          PEOPLE.filter((id) => person(id) && slow(of, id, one) && slow(of, id, other));
        const after = new Reach(changedEstate(estate, copied(estate, 'p0', ['p1', 'p2'])), reach.day);
        expect(named(reach, whoHasBoth(reach, { one, other }))).toEqual(both(reach));
        expect(named(after, newlyBoth(reach, after, { one, other }))).toEqual(
          both(after).filter((id) => !both(reach).includes(id)),
        );
      }),
      { numRuns: 100 },
    );
  });
});
