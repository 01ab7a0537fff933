import { wayPath } from '../../../core/access/reach/reach-words.ts';
import { highest, STRENGTHS, type Strength } from '../../../core/access/reach/strength.ts';
import { leadingWays } from '../../../core/access/views/people-at.ts';
import { idKey, idPrefix } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { namesOf, placeAt, pathOf } from './place-answers.ts';

export interface FoundPlace {
  readonly key: string;
  readonly name: string;
  readonly path: string;
}

/** Places whose name holds a text, those that begin with it first. */
export function searchPlaces(view: EstateView, text: string, size: number): readonly FoundPlace[] {
  const { tree } = view.estate;
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return [];
  const [begins, within]: [number[], number[]] = [[], []];
  for (const [at, place] of tree.places.entries()) {
    const where = (place.name ?? place.id).toLowerCase().indexOf(wanted);
    if (where === 0) begins.push(at);
    else if (where > 0 && within.length < size) within.push(at);
    if (begins.length >= size) break;
  }
  return [...begins, ...within].slice(0, size).map((at) => foundPlace(view, at));
}

const MOST_LINE_SOURCES = 500;

/** The names that lines of a source have for what its topmost places lie in. */
export function lineSources({ estate: { tree } }: EstateView, source: number): readonly string[] {
  const prefix = idPrefix(source);
  const found = new Set<string>();
  for (let at = 0; at < tree.places.length; at = tree.end[at] as number) {
    const { source: name = '' } = tree.places[at] ?? {};
    if (name.startsWith(prefix)) found.add(name.slice(prefix.length));
  }
  return [...found].sort().slice(0, MOST_LINE_SOURCES);
}

function foundPlace(view: EstateView, at: number): FoundPlace {
  const { tree } = view.estate;
  const { id, name } = tree.places[at] as (typeof tree.places)[number];
  return {
    ...{ key: idKey(id), name: name ?? id },
    path: pathOf(view, at).join(' / '),
  };
}

/** Where a place stands. */
export interface Trail {
  readonly name: string;
  /** Ids of those above it, the highest first, and its own. */
  readonly above: readonly string[];
}

export function trailsOf(
  { estate: { tree } }: EstateView,
  ids: readonly string[],
): readonly (Trail | null)[] {
  return ids.map((id) => {
    const at = tree.number(id);
    if (at === undefined) return null;
    return {
      name: tree.places[at]?.name ?? id,
      above: [...tree.above(at).toReversed(), at].map((p) => tree.places[p]?.id ?? ''),
    };
  });
}

/** Who reaches a place more, or less, than on another day. */
export interface WhoDiffers {
  readonly before: number;
  readonly after: number;
  readonly came: readonly {
    readonly key: string;
    readonly name: string;
    readonly strength: Strength;
    readonly way: string;
  }[];
  readonly went: readonly {
    readonly key: string;
    readonly name: string;
    readonly strength: Strength;
    readonly way: string;
  }[];
  readonly changed: readonly {
    readonly key: string;
    readonly name: string;
    readonly from: Strength;
    readonly to: Strength;
  }[];
}

/** Places that somebody reaches more, or less, than on another day. */
export interface PlacesDiffer {
  readonly before: number;
  readonly after: number;
  readonly came: readonly (FoundPlace & { readonly strength: Strength })[];
  readonly went: readonly (FoundPlace & { readonly strength: Strength })[];
  readonly changed: readonly (FoundPlace & { readonly from: Strength; readonly to: Strength })[];
}

const MOST = 500;

/** Between a past day and now; places are told apart by id, and those that differ as what they inherit from does stand below it. */
export function placesDiffer(now: EstateView, then: EstateView, key: string): PlacesDiffer {
  const of = (view: EstateView) => {
    const { people, tree } = view.estate;
    const person = people.persons[people.number(view.principals.get(key) ?? '') ?? -1];
    const found = new Map<string, Strength>();
    if (person)
      for (const { place, steps } of view.reach.ofPerson(person, Infinity).first) {
        const strength = highest(steps);
        const id = tree.places[place]?.id;
        if (strength && id !== undefined) found.set(id, strength);
      }
    return found;
  };
  const [before, after] = [of(then), of(now)];
  const place = (view: EstateView, id: string) => foundPlace(view, view.estate.tree.number(id) ?? -1);
  return {
    ...{ before: before.size, after: after.size },
    came: [...after]
      .filter(([id]) => !before.has(id))
      .slice(0, MOST)
      .map(([id, strength]) => ({ ...place(now, id), strength })),
    went: [...before]
      .filter(([id]) => !after.has(id))
      .slice(0, MOST)
      .map(([id, strength]) => ({ ...place(then, id), strength })),
    changed: [...after]
      .flatMap(([id, to]) => {
        const from = before.get(id);
        return from !== undefined && from !== to ? [{ ...place(now, id), from, to }] : [];
      })
      .slice(0, MOST),
  };
}

/** Between a past day and now: people are told apart by id, as their numbers differ. */
export function whoDiffers(now: EstateView, then: EstateView, key: string): WhoDiffers {
  const of = (view: EstateView) => {
    const at = view.places.get(key);
    const found = new Map<string, Strength>();
    if (at !== undefined)
      for (const [i, set] of view.reach.whoReaches(at).entries())
        set.forEach((n) => {
          const person = view.estate.people.persons[n];
          if (person) found.set(person.id, STRENGTHS[i] as Strength);
        });
    return found;
  };
  const [before, after] = [of(then), of(now)];
  const single = (view: EstateView, id: string, strength: Strength) => {
    const { people } = view.estate;
    const person = people.persons[people.number(id) ?? -1];
    const pair = person && view.reach.pair(person, placeAt(view, key));
    const [way] = pair ? leadingWays(pair) : [];
    return {
      key: idKey(id),
      name: person?.name ?? id,
      strength,
      way: way ? wayPath(way, namesOf(view)) : '',
    };
  };
  return {
    ...{ before: before.size, after: after.size },
    came: [...after]
      .filter(([id]) => !before.has(id))
      .slice(0, MOST)
      .map(([id, s]) => single(now, id, s)),
    went: [...before]
      .filter(([id]) => !after.has(id))
      .slice(0, MOST)
      .map(([id, s]) => single(then, id, s)),
    changed: [...after].flatMap(([id, to]) => {
      const from = before.get(id);
      return from !== undefined && from !== to
        ? [{ key: idKey(id), name: namesOf(now).person(id), from, to }]
        : [];
    }),
  };
}
