import type { Bitmap } from '../../lens/bitmap.ts';
import { EVERYONE, EVERYONE_HERE, type PersonLine } from '../estate/estate-line.ts';
import type { PairReach, Reach, Way } from '../reach/reach.ts';
import { STRENGTHS, type Strength } from '../reach/strength.ts';

/** How somebody comes to what they can do, by the nearest of their ways. */
export const WAY_KINDS = ['direct', 'group', 'everyone', 'owner', 'link', 'file system'] as const;
export type WayKind = (typeof WAY_KINDS)[number];

export function wayKind(way: Way): WayKind {
  switch (way.is) {
    case 'owner':
    case 'link':
    case 'file system':
      return way.is;
    case 'grant':
      if (way.to === EVERYONE || way.to === EVERYONE_HERE) return 'everyone';
      return way.through.length === 0 ? 'direct' : 'group';
  }
}

/** The ways that give what somebody can do at most; of the others those that nothing beats come next. */
export function leadingWays({ strength, ways }: Pick<PairReach, 'strength' | 'ways'>): readonly Way[] {
  const rank = (w: Way) =>
    ('beaten' in w && w.beaten ? 2 : w.strength === strength ? 0 : 1) * 10 + WAY_KINDS.indexOf(wayKind(w));
  return ways.toSorted((a, b) => rank(a) - rank(b));
}

export interface PeopleWish {
  /** In their name or mail. */
  readonly text?: string | undefined;
  /** At least this. */
  readonly strength?: Strength | undefined;
  readonly way?: WayKind | undefined;
  /** Only by this group, or this person’s own entry. */
  readonly via?: string | undefined;
}

/** Numbers of the people who reach a place as wished, the strongest first, then by name. */
export function peopleAt(reach: Reach, at: number, wish: PeopleWish): readonly number[] {
  const { persons } = reach.estate.people;
  const sets = reach.whoReaches(at);
  const from = wish.strength === undefined ? 0 : STRENGTHS.indexOf(wish.strength);
  const text = wish.text?.trim().toLowerCase() ?? '';
  const seen = new Set<number>();
  const found: number[] = [];
  const byName = (a: number, b: number) => compareNames(persons[a], persons[b]);
  for (let i = STRENGTHS.length - 1; i >= from; i--) {
    const level: number[] = [];
    (sets[i] as Bitmap).forEach((n) => {
      if (seen.has(n)) return;
      seen.add(n);
      const person = persons[n];
      if (person && (text === '' || holds(person, text)) && fits(reach, person, at, wish)) level.push(n);
    });
    found.push(...level.sort(byName));
  }
  return found;
}

function fits(reach: Reach, person: PersonLine, at: number, { way, via }: PeopleWish): boolean {
  if (way === undefined && via === undefined) return true;
  const pair = reach.pair(person, at);
  if (way !== undefined) {
    const [first] = leadingWays(pair);
    if (!first || wayKind(first) !== way) return false;
  }
  return via === undefined || pair.ways.some((w) => 'to' in w && (w.to === via || w.through.includes(via)));
}

export function holds({ id, name, mail }: PersonLine, text: string): boolean {
  return [id, name, mail].some((t) => t?.toLowerCase().includes(text));
}

export function compareNames(
  a: Pick<PersonLine, 'id' | 'name'> | undefined,
  b: Pick<PersonLine, 'id' | 'name'> | undefined,
): number {
  const [x, y] = [a?.name ?? a?.id ?? '', b?.name ?? b?.id ?? ''];
  return x < y ? -1 : x > y ? 1 : (a?.id ?? '') < (b?.id ?? '') ? -1 : 1;
}
