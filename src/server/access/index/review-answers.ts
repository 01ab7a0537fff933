import {
  EVERYONE,
  EVERYONE_HERE,
  type GrantLine,
  type LinkLine,
} from '../../../core/access/estate/estate-line.ts';
import { isOpen, leftBefore } from '../../../core/access/estate/people.ts';
import { idKey } from '../keys.ts';
import { isKind, type PeopleKind } from './person-answers.ts';
import type { EstateView } from './estate-index.ts';
import {
  daysBefore,
  namesOf,
  placeAt,
  principal,
  USED_DAYS,
  type Principal,
  pathOf,
} from './place-answers.ts';

/** A grant or a link that somebody is to be asked about. */
export interface ReviewedLine {
  readonly line: GrantLine | LinkLine;
  readonly place: string;
  /** Whom it is given to; of a link for several, nobody in particular. */
  readonly who: string;
  /** Address of who owns the place; null where that is no one person. */
  readonly owner: string | null;
}

/** What a review asks about. */
export interface ReviewWish {
  /** With all below them. */
  readonly places: readonly string[];
  /** By what is theirs by name. */
  readonly people: readonly string[];
  /** Everybody of a kind, in the same way. */
  readonly kind?: PeopleKind | undefined;
  /** Numbers of places by how one comes to them: with those above that they inherit from. */
  readonly reached?: readonly number[] | undefined;
}

/** What is given at places and below them, on the way to some, or to people by name: a line for each grant and link. */
export function linesToReview(
  view: EstateView,
  { places, people, kind, reached = [] }: ReviewWish,
): readonly ReviewedLine[] {
  const { tree, grants, links } = view.estate;
  const inScope = new Set<number>();
  for (const key of places) {
    const at = placeAt(view, key);
    for (let p = at; p < (tree.end[at] as number); p++) inScope.add(p);
  }
  for (const at of reached)
    for (let p = at; p >= 0; p = tree.places[p]?.inherits ? (tree.parent[p] as number) : -1) inScope.add(p);
  const wanted = new Set(people.flatMap((key) => view.principals.get(key) ?? []));
  if (kind === 'group') for (const g of view.estate.people.groups) wanted.add(g.id);
  else if (kind !== undefined)
    for (const p of view.estate.people.persons) if (isKind(p, kind, view.reach.day)) wanted.add(p.id);
  const found: ReviewedLine[] = [];
  const at = [...new Set([...grants.keys(), ...links.keys()])].sort((a, b) => a - b);
  for (const p of at) {
    const all = inScope.has(p);
    const place = tree.places[p]?.id ?? '';
    for (const line of [...(grants.get(p) ?? []).filter((g) => !g.deny), ...(links.get(p) ?? [])]) {
      const to = typeof line.to === 'string' ? [line.to] : line.to;
      if (!all && !to.some((t) => wanted.has(t))) continue;
      found.push({ line, place, who: to.length === 1 ? (to[0] ?? '') : '', owner: ownerOf(view, p) });
    }
  }
  return found;
}

/** The address of the person who owns a place, or the nearest above it. */
function ownerOf(view: EstateView, at: number): string | null {
  const { tree, people } = view.estate;
  for (const p of [at, ...tree.above(at)]) {
    const owner = tree.places[p]?.owner;
    if (!owner) continue;
    const person = people.persons[people.number(owner) ?? -1];
    return person && isOpen(person, view.reach.day) ? (person.mail ?? null) : null;
  }
  return null;
}

/** What whoever answers needs to know of a line. */
export interface ReviewFacts {
  readonly place: {
    readonly key: string;
    readonly name: string;
    readonly path: string;
    readonly holds: string | null;
  };
  readonly to: Principal;
  /** Whether it still stands. */
  readonly stands: boolean;
  readonly used: number;
  /** The last day on which any of them used it. */
  readonly lastUse: string | null;
  /** How many of those whom the line is for left, with an account that is open. */
  readonly left: number;
  /** Of the people in the same unit: how many reach the place as well; null for groups. */
  readonly peers: { readonly reach: number; readonly of: number } | null;
}

export function reviewFacts(
  view: EstateView,
  lines: readonly (GrantLine | LinkLine)[],
): readonly ReviewFacts[] {
  const { tree, people, grants, links } = view.estate;
  const names = namesOf(view);
  const since = daysBefore(view.reach.day, USED_DAYS);
  return lines.map((line) => {
    const at = tree.number(line.place) ?? -1;
    const ids = typeof line.to === 'string' ? [line.to] : line.to;
    const uses = view.uses.get(at);
    let [used, left] = [0, 0];
    let lastUse: string | null = null;
    for (const id of ids)
      people.of(id).forEach((n) => {
        const day = uses?.get(n);
        if (day !== undefined && day >= since) used++;
        if (day !== undefined && (lastUse === null || day > lastUse)) lastUse = day;
        const person = people.persons[n];
        if (person && leftBefore(person, view.reach.day) !== null && isOpen(person, view.reach.day)) left++;
      });
    const [only] = ids;
    const person = ids.length === 1 ? people.persons[people.number(only ?? '') ?? -1] : undefined;
    const unit = person?.attributes['unit'];
    const reach = at < 0 ? undefined : view.reach.whoReaches(at)[0];
    const peers = unit
      ? people.persons.flatMap((p, n) => (p.attributes['unit'] === unit && p !== person ? [n] : []))
      : [];
    const there = line.type === 'grant' ? grants.get(at) : links.get(at);
    return {
      place: {
        ...{ key: idKey(line.place), name: names.place(line.place) },
        path: at < 0 ? '' : pathOf(view, at).join(' / '),
        holds: view.holds.get(line.place) ?? null,
      },
      to:
        ids.length === 1 && only !== undefined
          ? {
              ...principal(view, only),
              ...(only === EVERYONE || only === EVERYONE_HERE ? { is: 'everyone' as const } : {}),
            }
          : {
              name: ids.map((i) => names.person(i)).join(', '),
              is: 'unknown',
              key: null,
              people: ids.length,
            },
      stands: (there ?? []).some((l) =>
        l.type === 'link' && line.type === 'link'
          ? l.id === line.id
          : l.to === line.to && l.strength === line.strength,
      ),
      ...{ used, lastUse, left },
      peers: unit && reach ? { reach: peers.filter((n) => reach.has(n)).length, of: peers.length } : null,
    };
  });
}
