import { ANYONE, EVERYONE, EVERYONE_HERE } from '../estate/estate-line.ts';
import { isOpen, leftBefore } from '../estate/people.ts';
import { Bitmap } from '../../lens/bitmap.ts';
import type { Reach } from '../reach/reach.ts';
import { STRENGTHS } from '../reach/strength.ts';
import type { PlaceMarks } from '../views/place-marks.ts';

export const FINDING_KINDS = {
  exposed: 'open to many, used by few',
  'link without end': 'link without end',
  leaver: 'leaver with an open account',
  guest: 'guest',
  'gives to others': 'many can give it to others',
  'direct grant': 'given to people by name',
  'empty group': 'group without people',
  'group of one': 'group of one',
  'stale group': 'group that uses nothing',
} as const;
export type FindingKind = keyof typeof FINDING_KINDS;

/** What lies at a place, and below it where that takes over what is given there. */
export interface Exposure {
  readonly items: number;
  /** Distinct people in them. */
  readonly people: number;
  /** Of those, the ones in items that hold sensitive data. */
  readonly sensitive: number;
  /** Kinds of sensitive data, the most items first. */
  readonly data: readonly { readonly value: string; readonly count: number }[];
}

/** Something that is broader than it has to be. */
export interface BreadthFinding {
  readonly kind: FindingKind;
  /** By number. */
  readonly place: number | null;
  /** Id of a person or a group. */
  readonly who: string | null;
  /** What is most worth mending has the most. */
  readonly weight: number;
  /** Needs a hand, and is no mere advice. */
  readonly mark: boolean;
  /** People who reach it, used it in time, and are exposed by it; what else is counted. */
  readonly counts: Readonly<Record<string, number>>;
  /** Of links: which. */
  readonly link?: string;
}

export interface BreadthSetting {
  /** By number of the place; of those with something of their own. */
  readonly exposures: ReadonlyMap<number, Exposure>;
  /** Who used a place, or something below, by number and last day. */
  readonly uses: ReadonlyMap<number, ReadonlyMap<number, string>>;
  /** Not used since this day counts as not used. */
  readonly since: string;
}

/** Open to more than this share of all people it is wide. */
const WIDE = 0.5;
/** More people than this who can give a place to others, besides its owners, are many. */
const FEW_GIVERS = 3;

/**
 * All that is broader than it has to be. The weight of a place is the people who reach it and did not use it in time, times the
 * people in it whose data is sensitive: what nobody would miss, by what it exposes.
 */
export function breadthOf(
  reach: Reach,
  marks: PlaceMarks,
  setting: BreadthSetting,
): readonly BreadthFinding[] {
  return [...ofPlaces(reach, marks, setting), ...ofPeople(reach, setting), ...ofGroups(reach, setting)];
}

function* ofPlaces(reach: Reach, marks: PlaceMarks, setting: BreadthSetting): Generator<BreadthFinding> {
  const { tree, people, grants, links } = reach.estate;
  const { exposures, uses, since } = setting;
  const all = people.persons.length;
  for (const at of tree.places.keys()) {
    if (marks.mark(at) === 'inherits') continue;
    const exposed = exposures.get(at);
    // Of files who reaches one is asked person by person: of those alone in which something was found.
    if (tree.places[at]?.posix && !exposed) continue;
    const sets = reach.whoReaches(at);
    const readers = (sets[1] as Bitmap).or(sets[2] as Bitmap).or(sets[3] as Bitmap);
    const anyone = reach.openToAnyone(at).length;
    const used = usedBy(uses.get(at), since);
    const unused = readers.size - readers.countAnd(used);
    if (exposed && exposed.sensitive > 0 && (unused > 0 || anyone > 0))
      yield {
        ...{ kind: 'exposed', place: at, who: null, weight: unused * exposed.sensitive },
        mark: readers.size > all * WIDE || anyone > 0,
        counts: {
          ...{ reach: readers.size, used: readers.countAnd(used), anyone },
          ...{ sensitive: exposed.sensitive, people: exposed.people, items: exposed.items },
        },
      };
    for (const l of links.get(at) ?? [])
      if (l.until === null) {
        const to =
          l.to === ANYONE
            ? all
            : Bitmap.union((typeof l.to === 'string' ? [l.to] : l.to).map((t) => people.of(t))).size;
        yield {
          ...{ kind: 'link without end', place: at, who: null, link: l.id },
          weight: to * Math.max(1, exposed?.sensitive ?? 0),
          mark: l.to === ANYONE || (exposed?.sensitive ?? 0) > 0,
          counts: { people: to, anyone: l.to === ANYONE ? 1 : 0, sensitive: exposed?.sensitive ?? 0 },
        };
      }
    const direct = (grants.get(at) ?? []).filter((g) => !g.deny && people.number(g.to) !== undefined);
    if (direct.length > 0)
      yield {
        ...{ kind: 'direct grant', place: at, who: null, mark: false },
        weight: direct.length * Math.max(1, exposed?.sensitive ?? 0),
        counts: { grants: direct.length, sensitive: exposed?.sensitive ?? 0 },
      };
    const owners = Bitmap.union(
      tree.chain(at).flatMap((p) => (tree.places[p]?.owner ? [people.of(tree.places[p].owner)] : [])),
    );
    const givers = (sets[3] as Bitmap).without(owners);
    if (givers.size > FEW_GIVERS)
      yield {
        ...{ kind: 'gives to others', place: at, who: null, mark: false },
        weight: givers.size * Math.max(1, exposed?.sensitive ?? 0),
        counts: { givers: givers.size, sensitive: exposed?.sensitive ?? 0 },
      };
  }
}

function* ofPeople(reach: Reach, { exposures }: BreadthSetting): Generator<BreadthFinding> {
  const { people } = reach.estate;
  const regions = [...exposures].filter(([, e]) => e.sensitive > 0);
  const readable = new Map(
    regions.map(([at]) => [
      at,
      reach
        .whoReaches(at)
        .slice(1)
        .reduce((a, b) => a.or(b)),
    ]),
  );
  for (const [n, person] of people.persons.entries()) {
    const gone = leftBefore(person, reach.day) !== null;
    if ((!gone && !person.guest) || !isOpen(person, reach.day)) continue;
    const { counts } = reach.ofPerson(person, 0);
    const places = STRENGTHS.reduce((sum, s) => sum + counts[s], 0);
    if (places === 0) continue;
    const sensitive = regions.reduce((sum, [at, e]) => sum + (readable.get(at)?.has(n) ? e.sensitive : 0), 0);
    yield {
      ...{ kind: gone ? 'leaver' : 'guest', place: null, who: person.id },
      weight: places + sensitive,
      mark: gone || sensitive > 0,
      counts: { places, sensitive, change: counts.change + counts.give },
    };
  }
}

function* ofGroups(reach: Reach, { uses, since }: BreadthSetting): Generator<BreadthFinding> {
  const { people } = reach.estate;
  for (const group of people.groups) {
    if (group.id === EVERYONE || group.id === EVERYONE_HERE) continue;
    const all = people.of(group.id);
    const places = reach.placesOf(group.id);
    const counts = { people: all.size, places: places.length };
    if (all.size < 2) {
      yield {
        ...{ kind: all.size === 0 ? 'empty group' : 'group of one', place: null, who: group.id },
        ...{ weight: places.length, mark: false, counts },
      };
      continue;
    }
    // Where nobody’s use is known, no group is told to be without.
    const known = places.filter((at) => uses.has(at));
    if (known.length > 0 && known.every((at) => usedBy(uses.get(at), since).and(all).size === 0))
      yield {
        ...{ kind: 'stale group', place: null, who: group.id, mark: false, counts },
        weight: all.size * places.length,
      };
  }
}

function usedBy(of: ReadonlyMap<number, string> | undefined, since: string): Bitmap {
  return Bitmap.of([...(of ?? [])].flatMap(([n, day]) => (day >= since ? [n] : [])).sort((a, b) => a - b));
}
