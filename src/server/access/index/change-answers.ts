import { z } from 'zod';
import { AccessStep, type AccessChange } from '../../../core/access/change/access-change.ts';
import { rehearsed } from '../../../core/access/change/access-rehearsal.ts';
import {
  broken,
  cleared,
  copied,
  closed,
  ended,
  moved,
  narrowed,
  relisted,
  restored,
  smallestGroupOf,
} from '../../../core/access/change/composed-changes.ts';
import {
  newlyBoth,
  whoHasBoth,
  type HandsRule,
  type HandsSide,
} from '../../../core/access/hands/hands-rule.ts';
import { stepWords } from '../../../core/access/change/change-words.ts';
import { AclEntry, GrantLine, LinkLine } from '../../../core/access/estate/estate-line.ts';
import { STRENGTHS, type Strength } from '../../../core/access/reach/strength.ts';
import { compareNames } from '../../../core/access/views/people-at.ts';
import type { Bitmap } from '../../../core/lens/bitmap.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { daysBefore, namesOf, personWork, placeAt, USED_DAYS } from './place-answers.ts';

const Key = z.string().max(20);

/** What somebody wants changed, from which its steps are made. */
export const ChangeWish = z.discriminatedUnion('act', [
  z.strictObject({
    act: z.literal('take'),
    lines: z
      .array(z.union([GrantLine, LinkLine]))
      .min(1)
      .max(500),
  }),
  z.strictObject({
    act: z.literal('give'),
    place: Key,
    to: z.array(z.string().max(420)).min(1, 'Choose somebody.').max(100),
    strength: z.enum(STRENGTHS),
    deny: z.boolean().default(false),
    until: z.iso.date().nullable().default(null),
  }),
  z.strictObject({ act: z.literal('copy'), from: Key, to: z.array(Key).min(1, 'Choose somebody.').max(100) }),
  z.strictObject({ act: z.literal('move'), from: Key, to: Key }),
  z.strictObject({ act: z.literal('clear'), who: z.array(Key).min(1).max(200) }),
  /** Of files and folders: entries that are to go, or to come. */
  z.strictObject({
    act: z.literal('list'),
    place: Key,
    take: z.array(AclEntry).max(200).default([]),
    add: z.array(AclEntry).max(200).default([]),
  }),
  z.strictObject({ act: z.literal('break'), place: Key, keeps: z.boolean() }),
  z.strictObject({ act: z.literal('restore'), place: Key }),
  z.strictObject({
    act: z.literal('narrow'),
    place: Key,
    /** The smallest group of all who used it, where none is named. */
    group: Key.optional(),
    instead: z.array(z.string().max(420)).max(50).optional(),
  }),
  z.strictObject({ act: z.literal('end link'), place: Key, link: z.string().max(400), until: z.iso.date() }),
  z.strictObject({
    act: z.literal('member'),
    group: Key,
    add: z.array(Key).max(100),
    take: z.array(Key).max(100),
  }),
]);
export type ChangeWish = z.infer<typeof ChangeWish>;

export interface Composed {
  readonly name: string;
  readonly steps: AccessChange;
}

/** The steps of what is wanted. Throws a RefusedError where nothing is left to do, or what it names is not there. */
export function composed(view: EstateView, wish: ChangeWish): Composed {
  const made = compose(view, wish);
  if (made.steps.length === 0)
    throw new RefusedError('There is nothing to change: it is so already.', [], 409);
  return { name: made.name.slice(0, 200), steps: made.steps };
}

function compose(view: EstateView, wish: ChangeWish): Composed {
  const { estate } = view;
  const names = namesOf(view);
  const placeId = (key: string) => estate.tree.places[placeAt(view, key)]?.id ?? '';
  const whoId = (key: string) => {
    const id = view.principals.get(key);
    if (id === undefined) throw notFound('person or group');
    return id;
  };
  switch (wish.act) {
    case 'take': {
      const steps = wish.lines.map((line): AccessStep =>
        line.type === 'grant'
          ? { is: 'grant', act: 'take', grant: line }
          : { is: 'link', act: 'take', link: line },
      );
      const [first] = wish.lines;
      const what = first?.type === 'grant' ? names.person(first.to) : first ? 'a link' : '';
      const where = first ? names.place(first.place) : '';
      return {
        name:
          wish.lines.length === 1
            ? `Take ${what} away at ${where}`
            : `Take ${wish.lines.length} away at ${where}`,
        steps,
      };
    }
    case 'give': {
      const place = placeId(wish.place);
      const { strength, deny, until } = wish;
      const to = wish.to.map((t) => view.principals.get(t) ?? t);
      const line = estate.tree.places[placeAt(view, wish.place)];
      if (line?.posix)
        return {
          name: `Give ${to.map((t) => names.person(t)).join(', ')} ${strength} at ${names.place(place)}`,
          steps: relisted(estate, place, [], entriesFor(view, to, strength, line.posix.is === 'folder')),
        };
      const there = estate.grants.get(placeAt(view, wish.place)) ?? [];
      const fresh = to.filter(
        (t) =>
          !there.some((g) => g.to === t && g.strength === strength && g.deny === deny && g.until === until),
      );
      return {
        name: `${deny ? 'Deny' : 'Give'} ${to.map((t) => names.person(t)).join(', ')} ${strength} at ${names.place(place)}`,
        steps: fresh.map((t): AccessStep => ({
          is: 'grant',
          act: 'add',
          grant: { type: 'grant', place, to: t, strength, deny, only: false, until, by: null, at: null },
        })),
      };
    }
    case 'copy': {
      const [from, to] = [whoId(wish.from), wish.to.map(whoId)];
      return {
        name: `Copy the access of ${names.person(from)} to ${to.map((t) => names.person(t)).join(', ')}`,
        steps: copied(estate, from, to),
      };
    }
    case 'move': {
      const [from, to] = [whoId(wish.from), whoId(wish.to)];
      return {
        name: `Move the access of ${names.person(from)} to ${names.person(to)}`,
        steps: moved(estate, from, to),
      };
    }
    case 'clear': {
      const who = wish.who.map(whoId);
      return {
        name:
          who.length === 1
            ? `Clear ${names.person(who[0] as string)} everywhere`
            : `Clear ${who.length} people everywhere`,
        steps: who.flatMap((w) => [...cleared(estate, w), ...closed(estate, w)]),
      };
    }
    case 'list': {
      const place = placeId(wish.place);
      return {
        name: `The list of ${names.place(place)}`,
        steps: relisted(estate, place, wish.take, wish.add),
      };
    }
    case 'break': {
      const place = placeId(wish.place);
      return {
        name: `${names.place(place)} gets grants of its own${wish.keeps ? '' : ', and nothing from above'}`,
        steps: broken(estate, place, wish.keeps),
      };
    }
    case 'restore': {
      const place = placeId(wish.place);
      return { name: `${names.place(place)} inherits again`, steps: restored(estate, place) };
    }
    case 'narrow': {
      const place = placeId(wish.place);
      const group = wish.group === undefined ? usersGroup(view, wish.place, wish.instead) : whoId(wish.group);
      if (group === undefined)
        throw new RefusedError('No other group holds all who used it in 90 days.', [
          { field: 'group', message: 'Choose the group that is to have it, or take the grant away.' },
        ]);
      return {
        name: `${names.person(group)} in the place of ${wish.instead?.map(names.person).join(', ') ?? 'everyone'} at ${names.place(place)}`.slice(
          0,
          200,
        ),
        steps: narrowed(estate, place, group, wish.instead),
      };
    }
    case 'end link': {
      const place = placeId(wish.place);
      return {
        name: `A link at ${names.place(place)} ends on ${wish.until}`,
        steps: ended(estate, place, wish.link, wish.until),
      };
    }
    case 'member': {
      const group = whoId(wish.group);
      const step = (act: 'add' | 'take') => (key: string) =>
        ({ is: 'member', act, group, member: whoId(key) }) as const;
      const isIn = new Set(estate.people.group(group)?.members);
      const steps = [...wish.add.map(step('add')), ...wish.take.map(step('take'))];
      return {
        name: `Who is in ${names.person(group)}`,
        steps: steps.filter((s) => isIn.has(s.member) === (s.act === 'take')),
      };
    }
  }
}

/** Entries of a list that give people and groups a strength. Throws a RefusedError for one that a file system does not know. */
function entriesFor(
  { estate: { people } }: EstateView,
  to: readonly string[],
  strength: Strength,
  isFolder: boolean,
): readonly string[] {
  if (strength === 'give')
    throw new RefusedError('Only its owner can give it to others.', [
      { field: 'strength', message: 'Choose to read or to change it.' },
    ]);
  const bits = `${strength === 'see' ? '-' : 'r'}${strength === 'change' ? 'w' : '-'}${isFolder ? 'x' : '-'}`;
  return to.map((id) => {
    const uid = people.persons[people.number(id) ?? -1]?.uid;
    const gid = people.group(id)?.gid;
    if (uid !== undefined) return `user:${uid}:${bits}`;
    if (gid !== undefined) return `group:${gid}:${bits}`;
    throw new RefusedError('Not all of them are known to the file system.', [
      { field: 'to', message: `“${people.group(id)?.name ?? id}” has no number there.` },
    ]);
  });
}

/** The smallest group in which all are who used a place in time. */
function usersGroup(view: EstateView, key: string, except?: readonly string[]): string | undefined {
  const at = placeAt(view, key);
  const since = daysBefore(view.reach.day, USED_DAYS);
  const used = [...(view.uses.get(at) ?? [])].flatMap(([n, day]) => (day >= since ? [n] : []));
  return smallestGroupOf(view.estate, used, except);
}

export interface RehearsedPlace {
  readonly key: string;
  readonly name: string;
  readonly path: string;
  readonly holds: string | null;
  readonly gain: number;
  readonly lose: number;
  /** Who cannot even see it any more. */
  readonly out: number;
  /** Who keeps as much by another way. */
  readonly keep: number;
  readonly before: number;
  readonly after: number;
}

export interface RehearsedPerson {
  readonly key: string;
  readonly name: string;
  readonly work: string;
  readonly gains: number;
  readonly loses: number;
  /** The last day on which they used something that they lose. */
  readonly lastUse: string | null;
}

/** What a change would do. */
export interface RehearsalView {
  readonly steps: readonly string[];
  readonly gain: number;
  readonly lose: number;
  /** Of those who lose something: how many used it in time. */
  readonly loseUsed: number;
  readonly keep: number;
  readonly usesKnown: boolean;
  readonly places: readonly RehearsedPlace[];
  readonly placeCount: number;
  readonly people: readonly RehearsedPerson[];
  readonly peopleCount: number;
  readonly conflicts: readonly HandsConflict[];
}

/** A rule that a change would break: who would have both, and has not now. */
export interface HandsConflict {
  readonly rule: string;
  readonly people: readonly string[];
  readonly count: number;
}

/** A rule of two pairs of hands as the desk shows it. */
export interface HandsView {
  readonly id: number;
  readonly name: string;
  readonly one: string;
  readonly other: string;
  /** Who has both now; the first. */
  readonly both: readonly { readonly key: string; readonly name: string }[];
  readonly count: number;
}

/** What is told of those who have both sides of a rule. */
const MOST_BOTH = 20;

export function handsView(
  view: EstateView,
  rules: readonly (HandsRule & { readonly id: number })[],
): readonly HandsView[] {
  const names = namesOf(view);
  const { persons } = view.estate.people;
  const words = (side: HandsSide) =>
    side.is === 'group'
      ? `being in ${names.person(side.group)}`
      : `being able to ${side.strength} ${names.place(side.place)}`;
  return rules.map((rule) => {
    const both = whoHasBoth(view.reach, rule);
    return {
      ...{ id: rule.id, name: rule.name, one: words(rule.one), other: words(rule.other), count: both.size },
      both: both.first(MOST_BOTH).flatMap((n) => {
        const person = persons[n];
        return person ? [{ key: idKey(person.id), name: person.name ?? person.id }] : [];
      }),
    };
  });
}

/** A side as somebody chose it: groups and places by what they are called in addresses. */
export function handsSide(view: EstateView, side: HandsSide): HandsSide {
  if (side.is === 'group') {
    const group = view.principals.get(side.group);
    if (group === undefined || !view.estate.people.group(group)) throw notFound('group');
    return { is: 'group', group };
  }
  return { ...side, place: view.estate.tree.places[placeAt(view, side.place)]?.id ?? '' };
}

const MOST_PLACES = 200;
const MOST_PEOPLE = 500;

/** Throws a RefusedError where it does not fit the estate any more. */
export function rehearsalView(
  view: EstateView,
  steps: AccessChange,
  hands: readonly HandsRule[] = [],
): RehearsalView {
  let found: ReturnType<typeof rehearsed>;
  try {
    found = rehearsed(view.reach, steps);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new RefusedError(
      'It does not fit what stands now.',
      [{ field: 'steps', message: `${error.message} Make it anew from what stands.` }],
      409,
    );
  }
  const { tree, people } = view.estate;
  const names = namesOf(view);
  const since = daysBefore(view.reach.day, USED_DAYS);
  const [gains, loses] = [new Map<number, number>(), new Map<number, number>()];
  const last = new Map<number, string>();
  const keep = new Set<number>();
  const count = (set: Bitmap, into: Map<number, number>) =>
    set.forEach((n) => into.set(n, (into.get(n) ?? 0) + 1));
  for (const p of found.places) {
    count(p.gain, gains);
    count(p.lose, loses);
    p.keep.forEach((n) => keep.add(n));
    const of = view.uses.get(p.place);
    p.lose.forEach((n) => {
      const day = of?.get(n);
      if (day !== undefined && day > (last.get(n) ?? '')) last.set(n, day);
    });
  }
  const touched = new Set([...gains.keys(), ...loses.keys()]);
  const sorted = [...touched].sort(
    (a, b) => (loses.get(b) ?? 0) - (loses.get(a) ?? 0) || compareNames(people.persons[a], people.persons[b]),
  );
  const moving = found.places.filter((p) => p.gain.size + p.lose.size + p.keep.size > 0);
  return {
    steps: steps.map((s) => stepWords(s, names)),
    ...{ gain: found.gain.size, lose: found.lose.size, keep: keep.size, usesKnown: view.uses.size > 0 },
    loseUsed: [...loses.keys()].filter((n) => (last.get(n) ?? '') >= since).length,
    places: moving.slice(0, MOST_PLACES).map((p) => {
      const line = tree.places[p.place] as (typeof tree.places)[number];
      return {
        ...{ key: idKey(line.id), name: line.name ?? line.id, holds: view.holds.get(line.id) ?? null },
        path: tree
          .above(p.place)
          .toReversed()
          .map((up) => names.place(tree.places[up]?.id ?? ''))
          .join(' / '),
        ...{ gain: p.gain.size, lose: p.lose.size, out: p.out.size, keep: p.keep.size },
        ...{ before: p.before, after: p.after },
      };
    }),
    placeCount: moving.length,
    people: sorted.slice(0, MOST_PEOPLE).flatMap((n) => {
      const person = people.persons[n];
      return person
        ? [
            {
              ...{
                key: idKey(person.id),
                name: person.name ?? person.id,
                work: personWork(person, view.reach.day),
              },
              ...{ gains: gains.get(n) ?? 0, loses: loses.get(n) ?? 0, lastUse: last.get(n) ?? null },
            },
          ]
        : [];
    }),
    peopleCount: sorted.length,
    conflicts: hands.flatMap((rule) => {
      const fresh = newlyBoth(view.reach, found.after, rule);
      return fresh.size === 0
        ? []
        : [
            {
              ...{ rule: rule.name, count: fresh.size },
              people: fresh.first(MOST_BOTH).map((n) => {
                const person = people.persons[n];
                return person?.name ?? person?.id ?? '';
              }),
            },
          ];
    }),
  };
}
