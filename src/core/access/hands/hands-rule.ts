import { z } from 'zod';
import { Bitmap } from '../../lens/bitmap.ts';
import type { Reach } from '../reach/reach.ts';
import { STRENGTHS } from '../reach/strength.ts';

/** One of two things that nobody may have together: being in a group, or being able to do something at a place. */
export const HandsSide = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('group'), group: z.string().min(1).max(420) }),
  z.strictObject({
    is: z.literal('place'),
    place: z.string().min(1).max(420),
    strength: z.enum(STRENGTHS),
  }),
]);
export type HandsSide = z.infer<typeof HandsSide>;

/** Who has the one is not to have the other: it takes two pairs of hands. */
export const HandsRule = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(200),
  one: HandsSide,
  other: HandsSide,
});
export type HandsRule = z.infer<typeof HandsRule>;

/** Who has both sides of a rule, by number; nobody where a side names what is not there. */
export function whoHasBoth(reach: Reach, { one, other }: Pick<HandsRule, 'one' | 'other'>): Bitmap {
  return sideOf(reach, one).and(sideOf(reach, other));
}

function sideOf(reach: Reach, side: HandsSide): Bitmap {
  const { people, tree } = reach.estate;
  if (side.is === 'group') return people.of(side.group).and(people.openOn(reach.day));
  const at = tree.number(side.place);
  if (at === undefined) return Bitmap.EMPTY;
  const from = STRENGTHS.indexOf(side.strength);
  return Bitmap.union(reach.whoReaches(at).slice(from));
}

/** Who would have both after a change and does not now, by number. */
export function newlyBoth(before: Reach, after: Reach, rule: Pick<HandsRule, 'one' | 'other'>): Bitmap {
  return whoHasBoth(after, rule).without(whoHasBoth(before, rule));
}
