import { wayPath } from '../../../core/access/reach/reach-words.ts';
import type { ReachCounts } from '../../../core/access/reach/reach.ts';
import { highest, STRENGTHS, type Strength } from '../../../core/access/reach/strength.ts';
import { givenTo } from '../../../core/access/change/composed-changes.ts';
import { compareNames, holds, leadingWays } from '../../../core/access/views/people-at.ts';
import type { PersonLine } from '../../../core/access/estate/estate-line.ts';
import { isOpen, leftBefore } from '../../../core/access/estate/people.ts';
import { notFound } from '../../../core/refusal.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { namesOf, personWork, principal, type Principal, pathOf } from './place-answers.ts';

export const PEOPLE_KINDS = ['person', 'group', 'guest', 'leaver', 'closed'] as const;
export type PeopleKind = (typeof PEOPLE_KINDS)[number];

/** A person or group in the register. */
export interface ListedPrincipal {
  readonly key: string;
  readonly name: string;
  readonly is: 'person' | 'group';
  readonly detail: string;
  /** Whose account is open though their work is over. */
  readonly mark: boolean;
}

/** Whether a person is among those of a kind; all are where none is said. */
export function isKind(p: PersonLine, kind: PeopleKind | undefined, day: string): boolean {
  switch (kind) {
    case 'group':
      return false;
    case 'guest':
      return p.guest;
    case 'leaver':
      return leftBefore(p, day) !== null && isOpen(p, day);
    case 'closed':
      return !isOpen(p, day);
    case 'person':
    case undefined:
      return true;
  }
}

/** People and groups as wished, by name. */
export function listPrincipals(
  view: EstateView,
  { text, kind, from, size }: { text: string; kind?: PeopleKind | undefined; from: number; size: number },
): { readonly rows: readonly ListedPrincipal[]; readonly total: number } {
  const { people } = view.estate;
  const { day } = view.reach;
  const wanted = text.trim().toLowerCase();
  const persons = people.persons.filter((p) => isKind(p, kind, day) && (wanted === '' || holds(p, wanted)));
  const groups =
    kind === undefined || kind === 'group'
      ? people.groups.filter(
          (g) =>
            wanted === '' ||
            (g.name ?? '').toLowerCase().includes(wanted) ||
            g.id.toLowerCase().includes(wanted),
        )
      : [];
  const all = [
    ...persons.map((p) => ({ is: 'person' as const, p })),
    ...groups.map((p) => ({ is: 'group' as const, p })),
  ].sort((a, b) => compareNames(a.p, b.p));
  return {
    total: all.length,
    rows: all.slice(from, from + size).map((one) => {
      const key = idKey(one.p.id);
      const name = one.p.name ?? one.p.id;
      if (one.is === 'group')
        return { key, name, is: 'group', detail: `group of ${people.of(one.p.id).size}`, mark: false };
      const open = isOpen(one.p, day);
      const gone = leftBefore(one.p, day) !== null;
      return {
        ...{ key, name, is: 'person', mark: gone && open },
        detail: [
          personWork(one.p, day),
          gone && open ? 'account still open' : open ? '' : 'account closed',
          one.p.guest && one.p.attributes['unit'] ? 'guest' : '',
        ]
          .filter(Boolean)
          .join(', '),
      };
    }),
  };
}

/** What a person or group is, and what they reach in numbers. */
export interface PrincipalView {
  readonly key: string;
  readonly id: string;
  readonly name: string;
  readonly is: 'person' | 'group';
  readonly work: string;
  readonly mail: string | null;
  readonly guest: boolean;
  readonly open: boolean;
  readonly left: string | null;
  /** Of a person. */
  readonly counts: ReachCounts | null;
  readonly unknown: number;
  readonly inAll: number;
  /** Groups that they are in, however deep, the nearest first, with the beginning of the shortest chain; the first. */
  readonly groups: readonly { readonly group: Principal; readonly through: readonly string[] }[];
  readonly groupCount: number;
  /** Of a group: who is in it by name; the first. */
  readonly members: readonly Principal[];
  readonly memberCount: number;
  /** What is given to them by name, and what they own. */
  readonly given: {
    readonly grants: number;
    readonly links: number;
    readonly groups: number;
    readonly owned: number;
  };
  readonly lastUse: string | null;
}

const MOST_MEMBERS = 200;
const MOST_GROUPS = 300;
const MOST_THROUGH = 6;

export function principalView(view: EstateView, key: string): PrincipalView {
  const { people, tree } = view.estate;
  const id = view.principals.get(key);
  if (id === undefined) throw notFound('person or group');
  const names = namesOf(view);
  const given = givenTo(view.estate, id);
  const counted = {
    ...{ grants: given.grants.length, links: given.links.length, groups: given.groups.length },
    owned: given.owned.length,
  };
  const number = people.number(id);
  const person = number === undefined ? undefined : people.persons[number];
  const group = people.group(id);
  if (!person) {
    if (!group) throw notFound('person or group');
    const around = people.around(id).filter((g) => g !== id);
    return {
      ...{ key, id, name: group.name ?? id, is: 'group', work: '', mail: null, guest: false, open: true },
      ...{ left: null, counts: null, unknown: 0, inAll: people.of(id).size, lastUse: null, given: counted },
      groups: around.slice(0, MOST_GROUPS).map((g) => ({ group: principal(view, g), through: [] })),
      groupCount: around.length,
      members: group.members.slice(0, MOST_MEMBERS).map((m) => principal(view, m)),
      memberCount: group.members.length,
    };
  }
  const reached = view.reach.ofPerson(person, 0);
  const principals = people.principalsOf(person);
  const groups = [...principals.keys()].filter((g) => people.group(g));
  let lastUse: string | null = null;
  for (const [at, of] of view.uses)
    if ((tree.parent[at] as number) < 0) {
      const day = of.get(number as number);
      if (day !== undefined && (lastUse === null || day > lastUse)) lastUse = day;
    }
  return {
    ...{
      key,
      id,
      name: person.name ?? id,
      is: 'person',
      work: personWork(person, view.reach.day),
      mail: person.mail ?? null,
    },
    ...{ guest: person.guest, open: isOpen(person, view.reach.day), lastUse, given: counted },
    left: leftBefore(person, view.reach.day),
    ...{ counts: reached.counts, unknown: reached.unknown, inAll: tree.places.length },
    groups: groups.slice(0, MOST_GROUPS).map((g) => ({
      group: principal(view, g),
      through: principals
        .chain(g)
        .slice(0, -1)
        .slice(0, MOST_THROUGH)
        .map((c) => names.person(c)),
    })),
    groupCount: groups.length,
    ...{ members: [], memberCount: 0 },
  };
}

/** A place that somebody reaches. */
export interface ReachedRow {
  readonly key: string;
  readonly name: string;
  readonly path: string;
  readonly strength: Strength;
  readonly way: string;
  readonly otherWays: number;
  readonly lastUse: string | null;
}

/** Places that a person reaches, from one on, with the way behind each. */
export function reachedPlaces(
  view: EstateView,
  {
    key,
    text,
    strength,
    from,
    size,
  }: {
    key: string;
    text: string;
    strength?: Strength | undefined;
    from: number;
    size: number;
  },
): { readonly rows: readonly ReachedRow[]; readonly next: number | null } {
  const { people, tree } = view.estate;
  const number = people.number(view.principals.get(key) ?? '');
  const person = number === undefined ? undefined : people.persons[number];
  if (number === undefined || !person) throw notFound('person');
  const names = namesOf(view);
  const wanted = text.trim().toLowerCase();
  const rows: ReachedRow[] = [];
  let next: number | null = from;
  const least = strength === undefined ? 0 : STRENGTHS.indexOf(strength);
  while (next !== null && rows.length < size) {
    const page = view.reach.ofPerson(person, wanted === '' && least === 0 ? size - rows.length : 2000, next);
    next = page.next;
    for (const { place, steps } of page.first) {
      const line = tree.places[place];
      const is = highest(steps);
      if (!line || !is || STRENGTHS.indexOf(is) < least) continue;
      const path = pathOf(view, place);
      const name = line.name ?? line.id;
      if (wanted !== '' && ![...path, name].some((p) => p.toLowerCase().includes(wanted))) continue;
      if (rows.length >= size) {
        next = place;
        break;
      }
      const pair = view.reach.pair(person, place);
      const [first] = leadingWays(pair);
      rows.push({
        ...{ key: idKey(line.id), name, path: path.join(' / '), strength: is },
        way: first ? wayPath(first, names) : '',
        otherWays: Math.max(0, pair.ways.length - 1),
        lastUse: view.uses.get(place)?.get(number) ?? null,
      });
    }
  }
  return { rows, next };
}
