import { Bitmap } from '../../lens/bitmap.ts';
import { Reach, type ReachCounts } from '../reach/reach.ts';
import { STRENGTHS } from '../reach/strength.ts';
import { changedEstate, type AccessChange } from './access-change.ts';

/** A place that a change touches, and whose reach of it, and of what inherits from it, is another then; people by number. */
export interface TouchedPlace {
  readonly place: number;
  /** Who can do more than before. */
  readonly gain: Bitmap;
  /** Who can do less. */
  readonly lose: Bitmap;
  /** Of those who lose: who cannot even see it any more. */
  readonly out: Bitmap;
  /** Of those whom something is taken from here: who can do as much by another way. */
  readonly keep: Bitmap;
  readonly before: number;
  readonly after: number;
}

/** What a change would do, before it is done. */
export interface Rehearsed {
  readonly after: Reach;
  /** In the order of places; those where nobody’s reach changes, too. */
  readonly places: readonly TouchedPlace[];
  readonly gain: Bitmap;
  readonly lose: Bitmap;
}

/** Throws a RangeError where the change does not fit the estate. */
export function rehearsed(before: Reach, change: AccessChange): Rehearsed {
  const { tree, people } = before.estate;
  const written = new Set(
    change.flatMap((step) => {
      if (step.is === 'member' || step.is === 'account') return [];
      const place =
        step.is === 'grant' ? step.grant.place : step.is === 'link' ? step.link.place : step.place;
      return tree.number(place) ?? [];
    }),
  );
  const after = new Reach(changedEstate(before.estate, change), before.day, {
    reach: before,
    places: written,
  });
  const touched = new Set(written);
  for (const step of change)
    if (step.is === 'member')
      // What the group is given, and those that it is in by now or then.
      for (const reach of [before, after])
        for (const group of reach.estate.people.around(step.group))
          for (const at of reach.placesOf(group)) touched.add(at);
    else if (step.is === 'account') {
      const person = people.persons[people.number(step.person) ?? -1];
      for (const principal of person ? people.principalsOf(person).keys() : [])
        for (const at of before.placesOf(principal)) touched.add(at);
    } else if (step.is === 'list' && passes(step.before) !== passes(step.after)) {
      // Who does not pass a folder reaches nothing below it.
      const at = tree.number(step.place) ?? -1;
      for (let below = at + 1; below < (tree.end[at] ?? 0); below++) touched.add(below);
    }
  const takenAt = new Map<number, Bitmap[]>();
  for (const step of change) {
    if (step.is !== 'grant' || step.act !== 'take' || step.grant.deny) continue;
    const at = tree.number(step.grant.place) ?? -1;
    const still = after.whoReaches(at)[STRENGTHS.indexOf(step.grant.strength)] as Bitmap;
    const kept = people.of(step.grant.to).and(still);
    const known = takenAt.get(at);
    if (known) known.push(kept);
    else takenAt.set(at, [kept]);
  }
  const places = [...touched]
    .sort((a, b) => a - b)
    .map((place): TouchedPlace => {
      const [was, is] = [before.whoReaches(place), after.whoReaches(place)];
      const over = (more: readonly Bitmap[], less: readonly Bitmap[]) =>
        Bitmap.union(more.map((set, i) => set.without(less[i] as Bitmap)));
      const lose = over(was, is);
      return {
        place,
        gain: over(is, was),
        lose,
        out: (was[0] as Bitmap).without(is[0] as Bitmap),
        keep: Bitmap.union(takenAt.get(place) ?? []).without(lose),
        before: (was[0] as Bitmap).size,
        after: (is[0] as Bitmap).size,
      };
    });
  return {
    after,
    places,
    gain: Bitmap.union(places.map((p) => p.gain)),
    lose: Bitmap.union(places.map((p) => p.lose)),
  };
}

/** Who may pass a folder, as its entries say. */
function passes(list: readonly string[]): string {
  return list
    .filter((e) => e.endsWith('x') || e.startsWith('mask'))
    .sort()
    .join();
}

/** How many places one person reaches before and after. */
export function countsOf(
  before: Reach,
  { after }: Pick<Rehearsed, 'after'>,
  person: number,
): { readonly before: ReachCounts; readonly after: ReachCounts } {
  const counts = (reach: Reach) => {
    const line = reach.estate.people.persons[person];
    if (!line) throw new RangeError(`There is no person ${person}.`);
    return reach.ofPerson(line, 0).counts;
  };
  return { before: counts(before), after: counts(after) };
}
