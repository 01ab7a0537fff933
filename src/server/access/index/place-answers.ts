import { leftBefore } from '../../../core/access/estate/people.ts';
import type { GrantLine, LinkLine, PersonLine } from '../../../core/access/estate/estate-line.ts';
import { EVERYONE, EVERYONE_HERE } from '../../../core/access/estate/estate-line.ts';
import type { OpenToAnyone, PairReach } from '../../../core/access/reach/reach.ts';
import { reachWords, wayPath, type ReachNames } from '../../../core/access/reach/reach-words.ts';
import { highest, type Strength } from '../../../core/access/reach/strength.ts';
import {
  leadingWays,
  peopleAt,
  wayKind,
  type PeopleWish,
  type WayKind,
} from '../../../core/access/views/people-at.ts';
import type { PlaceMark } from '../../../core/access/views/place-marks.ts';
import { notFound } from '../../../core/refusal.ts';
import { dayText } from '../../../core/text/day.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';

/** A place in its tree. */
export interface PlaceNode {
  readonly key: string;
  readonly name: string;
  readonly opens: boolean;
  readonly mark: PlaceMark;
  /** How many below it have something of their own. */
  readonly differs: number;
  /** Of somebody who was asked about: what they can do here, and whether they reach something below. */
  readonly strength?: Strength | null;
  readonly below?: boolean;
}

export function placeNode(view: EstateView, at: number): PlaceNode {
  const { tree } = view.estate;
  const place = tree.places[at];
  if (!place) throw notFound('place');
  return {
    ...{ key: idKey(place.id), name: place.name ?? place.id, opens: (tree.end[at] as number) > at + 1 },
    ...{ mark: view.marks.mark(at), differs: view.marks.below(at) },
  };
}

/** What lies right below a place, or the tops of all sources; as somebody sees it, where they are named. */
export function placesBelow(view: EstateView, key: string | null, person?: string): readonly PlaceNode[] {
  const { tree, people } = view.estate;
  const [from, end] =
    key === null ? [0, tree.places.length] : [placeAt(view, key) + 1, tree.end[placeAt(view, key)] as number];
  const who = person === undefined ? undefined : people.persons[people.number(person) ?? -1];
  const reached = who ? view.reach.ofPerson(who, Infinity, from).first : [];
  const found: PlaceNode[] = [];
  // Both go down the tree in the same order.
  let next = 0;
  for (let at = from; at < end; at = tree.end[at] as number) {
    const node = placeNode(view, at);
    if (!who) {
      found.push(node);
      continue;
    }
    const here = reached[next]?.place === at ? reached[next++] : undefined;
    const below = (reached[next]?.place ?? Infinity) < (tree.end[at] as number);
    found.push({ ...node, strength: here ? highest(here.steps) : null, below });
    while ((reached[next]?.place ?? Infinity) < (tree.end[at] as number)) next++;
  }
  return found;
}

/** Throws a RefusedError (404). */
export function placeAt(view: EstateView, key: string): number {
  const at = view.places.get(key);
  if (at === undefined) throw notFound('place');
  return at;
}

export function namesOf({ estate: { people, tree } }: EstateView): ReachNames {
  return {
    person: (id) => people.group(id)?.name ?? people.persons[people.number(id) ?? -1]?.name ?? id,
    place: (id) => tree.places[tree.number(id) ?? -1]?.name ?? id,
  };
}

/** How all above a place are called, the highest first. */
export function pathOf(view: EstateView, at: number): readonly string[] {
  const names = namesOf(view);
  const { tree } = view.estate;
  return tree
    .above(at)
    .toReversed()
    .map((up) => names.place(tree.places[up]?.id ?? ''));
}

/** Whom something is given to, as the desk can show and open it. */
export interface Principal {
  readonly name: string;
  readonly is: 'person' | 'group' | 'everyone' | 'unknown';
  readonly key: string | null;
  /** How many people that are. */
  readonly people: number;
}

export function principal(view: EstateView, id: string): Principal {
  const { people } = view.estate;
  const is =
    id === EVERYONE || id === EVERYONE_HERE
      ? 'everyone'
      : people.group(id)
        ? 'group'
        : people.number(id) === undefined
          ? 'unknown'
          : 'person';
  return {
    ...{ name: namesOf(view).person(id), is, people: people.of(id).size },
    key: is === 'person' || is === 'group' ? idKey(id) : null,
  };
}

/** What a place is, and what is known of it at a glance. */
export interface PlaceView extends PlaceNode {
  readonly id: string;
  readonly path: readonly { readonly key: string; readonly name: string }[];
  readonly holds: string | null;
  readonly source: number;
  readonly isFile: boolean;
  readonly inherits: boolean;
  readonly gate: boolean;
  readonly owner: Principal | null;
  readonly unknown: string | null;
  readonly people: number;
  readonly used: number;
  readonly usesKnown: boolean;
  readonly guests: number;
  readonly leavers: number;
  readonly anyone: readonly OpenToAnyone[];
  readonly grants: number;
  readonly belowInAll: number;
}

/** Not used for so long counts as not used. */
export const USED_DAYS = 90;

export function placeView(view: EstateView, key: string): PlaceView {
  const { reach, estate, uses } = view;
  const { tree, people, grants, links } = estate;
  const at = placeAt(view, key);
  const place = tree.places[at] as (typeof tree.places)[number];
  const sets = reach.whoReaches(at);
  const all = sets.reduce((a, b) => a.or(b));
  const since = daysBefore(reach.day, USED_DAYS);
  const of = uses.get(at);
  let [used, guests, leavers] = [0, 0, 0];
  all.forEach((n) => {
    const person = people.persons[n];
    if ((of?.get(n) ?? '') >= since) used++;
    if (person?.guest) guests++;
    if (person && leftBefore(person, reach.day) !== null) leavers++;
  });
  return {
    ...placeNode(view, at),
    ...{ id: place.id, holds: view.holds.get(place.id) ?? null, source: Number(place.id.split('/')[0]) },
    path: tree
      .above(at)
      .toReversed()
      .map((up) => ({
        key: idKey(tree.places[up]?.id ?? ''),
        name: namesOf(view).place(tree.places[up]?.id ?? ''),
      })),
    ...{ isFile: place.posix !== undefined, inherits: place.inherits, gate: place.gate },
    owner: place.owner === null ? null : principal(view, place.owner),
    ...{ unknown: reach.unknownAt(at), people: all.size, used, guests, leavers },
    usesKnown: uses.size > 0,
    anyone: reach.openToAnyone(at),
    grants: tree
      .chain(at)
      .reduce((n, p) => n + (grants.get(p)?.length ?? 0) + (links.get(p)?.length ?? 0), 0),
    belowInAll: (tree.end[at] as number) - at - 1,
  };
}

export function daysBefore(day: string, days: number): string {
  return new Date(Date.parse(day) - days * 86_400_000).toISOString().slice(0, 10);
}

/** Somebody at a place. */
export interface PersonAt {
  readonly key: string;
  readonly name: string;
  readonly work: string;
  readonly guest: boolean;
  /** The last day of their work, where that is over. */
  readonly left: string | null;
  readonly strength: Strength;
  /** The way that gives it, in a line; and how many others there are. */
  readonly way: string;
  readonly wayKind: WayKind;
  readonly otherWays: number;
  readonly lastUse: string | null;
}

/** What somebody does, or since when no more, as of a day. */
export function personWork(person: PersonLine, day: string): string {
  const left = leftBefore(person, day);
  if (left !== null) return `left ${dayText(left)}`;
  const { attributes, guest } = person;
  return attributes['unit'] ?? attributes['title'] ?? (guest ? 'guest' : '');
}

/** Who reaches a place, as wished, from one on. */
export function whoIsAt(
  view: EstateView,
  { key, wish, from, size }: { key: string; wish: PeopleWish; from: number; size: number },
): { readonly rows: readonly PersonAt[]; readonly total: number } {
  const at = placeAt(view, key);
  const { persons } = view.estate.people;
  const via = wish.via === undefined ? undefined : (view.principals.get(wish.via) ?? wish.via);
  const found = peopleAt(view.reach, at, { ...wish, via });
  const names = namesOf(view);
  const here = view.estate.tree.places[at]?.id;
  return {
    total: found.length,
    rows: found.slice(from, from + size).flatMap((n) => {
      const person = persons[n];
      if (!person) return [];
      const pair = view.reach.pair(person, at);
      const [first] = leadingWays(pair);
      return [
        {
          ...{
            key: idKey(person.id),
            name: person.name ?? person.id,
            work: personWork(person, view.reach.day),
          },
          ...{ guest: person.guest, left: leftBefore(person, view.reach.day) },
          strength: pair.strength ?? 'see',
          way: first ? wayPath(first, names, here) : '',
          wayKind: first ? wayKind(first) : 'direct',
          otherWays: Math.max(0, pair.ways.length - 1),
          lastUse: view.uses.get(at)?.get(n) ?? null,
        },
      ];
    }),
  };
}

/** How one person comes to a place, or does not. */
export interface PairView {
  readonly person: { readonly key: string; readonly name: string; readonly work: string };
  readonly place: { readonly key: string; readonly name: string };
  readonly found: PairReach;
  readonly words: readonly string[];
  /** Each way as steps from the person on. */
  readonly ways: readonly { readonly steps: readonly WayStep[]; readonly beaten: boolean }[];
  readonly left: string | null;
  readonly lastUse: string | null;
}

export interface WayStep {
  readonly words: string;
  readonly is: 'person' | 'group' | 'strength' | 'place' | 'link' | 'owner' | 'everyone';
  readonly key: string | null;
}

export function pairView(view: EstateView, personKey: string, placeKey: string): PairView {
  const at = placeAt(view, placeKey);
  const { people, tree } = view.estate;
  const number = people.number(view.principals.get(personKey) ?? '');
  const person = number === undefined ? undefined : people.persons[number];
  if (number === undefined || !person) throw notFound('person');
  const found = view.reach.pair(person, at);
  const names = namesOf(view);
  const place = tree.places[at];
  return {
    person: { key: personKey, name: person.name ?? person.id, work: personWork(person, view.reach.day) },
    place: { key: placeKey, name: place?.name ?? place?.id ?? '' },
    found,
    words: reachWords(found, names),
    ways: leadingWays(found).map((way) => {
      const steps: WayStep[] = [{ is: 'person', words: names.person(person.id), key: personKey }];
      if ('to' in way) {
        if (way.to === EVERYONE || way.to === EVERYONE_HERE)
          steps.push({ is: 'everyone', words: way.to, key: null });
        else for (const g of way.through) steps.push({ is: 'group', words: names.person(g), key: idKey(g) });
      }
      if (way.is === 'owner') steps.push({ is: 'owner', words: 'owner', key: null });
      else if (way.is === 'link') steps.push({ is: 'link', words: `link, ${way.strength}`, key: null });
      else steps.push({ is: 'strength', words: way.strength, key: null });
      steps.push({ is: 'place', words: names.place(way.at), key: idKey(way.at) });
      return { steps, beaten: 'beaten' in way && way.beaten };
    }),
    left: leftBefore(person, view.reach.day),
    lastUse: view.uses.get(at)?.get(number) ?? null,
  };
}

/** A grant or a link that counts at a place, here or from above. */
export interface GrantView {
  /** Tells it apart at this place. */
  readonly n: number;
  readonly is: 'grant' | 'denial' | 'link' | 'owner' | 'file system';
  readonly to:
    Principal | { readonly name: string; readonly is: 'anyone'; readonly key: null; readonly people: null };
  readonly strength: Strength | null;
  readonly words: string;
  readonly at: { readonly key: string; readonly name: string };
  readonly here: boolean;
  readonly until: string | null;
  readonly by: string | null;
  readonly given: string | null;
  /** How many of those it is for used the place in the last 90 days. */
  readonly used: number;
  readonly line: GrantLine | LinkLine | null;
}

export function grantsAt(view: EstateView, key: string): readonly GrantView[] {
  const at = placeAt(view, key);
  const { tree, grants, links, people } = view.estate;
  const names = namesOf(view);
  const since = daysBefore(view.reach.day, USED_DAYS);
  const recent = new Set([...(view.uses.get(at) ?? [])].flatMap(([n, day]) => (day >= since ? [n] : [])));
  const usedBy = (ids: readonly string[]) =>
    [...recent].filter((n) => ids.some((id) => people.of(id).has(n))).length;
  const found: Omit<GrantView, 'n'>[] = [];
  for (const place of tree.chain(at)) {
    const line = tree.places[place] as (typeof tree.places)[number];
    const where = {
      at: { key: idKey(line.id), name: line.name ?? line.id },
      here: place === at,
    };
    if (line.owner !== null)
      found.push({
        ...where,
        ...{ is: 'owner', to: principal(view, line.owner), strength: 'give', words: 'owns it' },
        ...{ until: null, by: null, given: null, line: null, used: usedBy([line.owner]) },
      });
    for (const g of grants.get(place) ?? [])
      found.push({
        ...where,
        ...{ is: g.deny ? 'denial' : 'grant', to: principal(view, g.to), strength: g.strength, words: '' },
        ...{ until: g.until, by: g.by === null ? null : names.person(g.by), given: g.at, line: g },
        used: usedBy([g.to]),
      });
    for (const l of links.get(place) ?? []) {
      const to: GrantView['to'] =
        l.to === 'anyone'
          ? { name: 'anyone who has it', is: 'anyone', key: null, people: null }
          : typeof l.to === 'string'
            ? principal(view, l.to)
            : l.to.length === 1
              ? principal(view, l.to[0] as string)
              : {
                  name: l.to.map((t) => names.person(t)).join(', '),
                  is: 'unknown',
                  key: null,
                  people: l.to.length,
                };
      found.push({
        ...where,
        ...{ is: 'link', to, strength: l.strength, words: 'link' },
        ...{ until: l.until, by: l.by === null ? null : names.person(l.by), given: l.at, line: l },
        used: l.to === 'anyone' ? 0 : usedBy(typeof l.to === 'string' ? [l.to] : l.to),
      });
    }
  }
  const { posix } = tree.places[at] as (typeof tree.places)[number];
  if (posix)
    for (const entry of posix.acl ?? [`mode ${posix.mode ?? ''}`])
      found.push({
        ...{ is: 'file system', to: { name: entry, is: 'unknown', key: null, people: 0 }, strength: null },
        ...{ words: entry, at: { key, name: namesOf(view).place(tree.places[at]?.id ?? '') }, here: true },
        ...{ until: null, by: null, given: null, used: 0, line: null },
      });
  return found.map((f, n) => ({ ...f, n }));
}

/** Places below with something of their own, with how many reach them. */
export function differingBelow(
  view: EstateView,
  { key, from, size }: { key: string; from: number; size: number },
): {
  readonly rows: readonly (PlaceNode & {
    readonly path: string;
    readonly people: number;
    readonly more: number;
    readonly less: number;
  })[];
  readonly next: number | null;
} {
  const at = placeAt(view, key);
  const { tree } = view.estate;
  const all = (p: number) => view.reach.whoReaches(p).reduce((a, b) => a.or(b));
  const here = all(at);
  const found = view.marks.listBelow(at, size + 1, from === 0 ? at + 1 : from);
  const rows = found.slice(0, size).map((p) => {
    const reached = all(p);
    const above = tree.above(p);
    return {
      ...placeNode(view, p),
      path: above
        .slice(0, above.indexOf(at))
        .toReversed()
        .map((up) => namesOf(view).place(tree.places[up]?.id ?? ''))
        .join(' / '),
      people: reached.size,
      more: reached.without(here).size,
      less: here.without(reached).size,
    };
  });
  return { rows, next: found.length > size ? (found[size] as number) : null };
}
