import { z } from 'zod';
import {
  AclEntry,
  GrantLine,
  LinkLine,
  sameGrant,
  type GroupLine,
  type PersonLine,
  type PlaceLine,
} from '../estate/estate-line.ts';
import type { Estate } from '../estate/estate.ts';
import { People } from '../estate/people.ts';

const Act = z.enum(['add', 'take']);

const AccountState = z.enum(['open', 'disabled']);
const List = z.array(AclEntry).max(1000);

/** One thing that is given or taken away; each can be turned round. */
export const AccessStep = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('grant'), act: Act, grant: GrantLine }),
  z.strictObject({ is: z.literal('link'), act: Act, link: LinkLine }),
  /** A person or group in a group, by name. */
  z.strictObject({ is: z.literal('member'), act: Act, group: z.string(), member: z.string() }),
  z.strictObject({ is: z.literal('inherits'), place: z.string(), before: z.boolean(), after: z.boolean() }),
  z.strictObject({
    is: z.literal('owner'),
    place: z.string(),
    before: z.string().nullable(),
    after: z.string().nullable(),
  }),
  /** Whether an account opens anything. */
  z.strictObject({ is: z.literal('account'), person: z.string(), before: AccountState, after: AccountState }),
  /** All entries of a file or folder. */
  z.strictObject({ is: z.literal('list'), place: z.string(), before: List, after: List }),
]);
export type AccessStep = z.infer<typeof AccessStep>;

/** What is to be done, in order. */
export type AccessChange = readonly AccessStep[];

/** What takes all of a change back. */
export function undone(change: AccessChange): AccessChange {
  return change
    .map((step): AccessStep => {
      switch (step.is) {
        case 'grant':
        case 'link':
        case 'member':
          return { ...step, act: step.act === 'add' ? 'take' : 'add' };
        case 'inherits':
          return { ...step, before: step.after, after: step.before };
        case 'owner':
          return { ...step, before: step.after, after: step.before };
        case 'account':
          return { ...step, before: step.after, after: step.before };
        case 'list':
          return { ...step, before: step.after, after: step.before };
      }
    })
    .toReversed();
}

/**
 * The estate after a change. Throws a RangeError that says which step does not fit: what is to be taken away is not there, or
 * what is to be added is there already.
 */
export function changedEstate(estate: Estate, change: AccessChange): Estate {
  let { grants, links } = estate;
  const groups = new Map<string, GroupLine>();
  const places = new Map<number, PlaceLine>();
  const persons = new Map<string, PersonLine>();
  const placeOf = (id: string): number => {
    const at = estate.tree.number(id);
    if (at === undefined) throw new RangeError(`There is no place “${id}”.`);
    return at;
  };
  const lineOf = (at: number) => places.get(at) ?? (estate.tree.places[at] as PlaceLine);
  const put = <T extends { readonly place: string }>(
    all: ReadonlyMap<number, readonly T[]>,
    original: ReadonlyMap<number, readonly T[]>,
    act: 'add' | 'take',
    one: T,
    same: (other: T) => boolean,
    words: string,
  ) => {
    const at = placeOf(one.place);
    const there = all.get(at) ?? [];
    const found = there.findIndex(same);
    if (act === 'add' && found >= 0) throw new RangeError(`${words} is there already.`);
    if (act === 'take' && found < 0) throw new RangeError(`${words} is not there.`);
    // Copied once, whatever the number of steps; and not at all where no step is about it.
    const own = all === original ? new Map(all) : (all as Map<number, readonly T[]>);
    return own.set(at, act === 'add' ? [...there, one] : there.toSpliced(found, 1));
  };
  for (const step of change)
    switch (step.is) {
      case 'grant': {
        const { grant } = step;
        const words = `${grant.deny ? 'The denial of' : 'The grant of'} ${grant.strength} to “${grant.to}” at “${grant.place}”`;
        grants = put(grants, estate.grants, step.act, grant, (other) => sameGrant(other, grant), words);
        break;
      }
      case 'link':
        links = put(
          links,
          estate.links,
          step.act,
          step.link,
          (l) => l.id === step.link.id,
          `The link “${step.link.id}” at “${step.link.place}”`,
        );
        break;
      case 'member': {
        const group = groups.get(step.group) ?? estate.people.group(step.group);
        if (!group) throw new RangeError(`There is no group “${step.group}”.`);
        const isIn = group.members.includes(step.member);
        if (isIn === (step.act === 'add'))
          throw new RangeError(`“${step.member}” is ${isIn ? 'in' : 'not in'} “${step.group}” already.`);
        const members = isIn
          ? group.members.filter((m) => m !== step.member)
          : [...group.members, step.member];
        groups.set(step.group, { ...group, members });
        break;
      }
      case 'inherits': {
        const at = placeOf(step.place);
        const line = lineOf(at);
        if (line.inherits !== step.before)
          throw new RangeError(`“${step.place}” ${line.inherits ? 'inherits' : 'inherits nothing'} already.`);
        places.set(at, { ...line, inherits: step.after });
        break;
      }
      case 'owner': {
        const at = placeOf(step.place);
        const line = lineOf(at);
        if (line.owner !== step.before)
          throw new RangeError(
            `The owner of “${step.place}” is ${line.owner ?? 'nobody'}, and not ${step.before ?? 'nobody'}.`,
          );
        places.set(at, { ...line, owner: step.after });
        break;
      }
      case 'account': {
        const person = persons.get(step.person) ?? personOf(estate, step.person);
        if (person.state !== step.before)
          throw new RangeError(`The account of “${step.person}” is ${person.state} already.`);
        persons.set(step.person, { ...person, state: step.after });
        break;
      }
      case 'list': {
        const at = placeOf(step.place);
        const line = lineOf(at);
        if (!line.posix || !sameList(line.posix.acl ?? [], step.before))
          throw new RangeError(`The list of “${step.place}” is another by now.`);
        const { mode: _, ...posix } = line.posix;
        places.set(at, { ...line, posix: { ...posix, acl: step.after } });
        break;
      }
    }
  const people =
    groups.size === 0 && persons.size === 0
      ? estate.people
      : new People(
          persons.size === 0
            ? estate.people.persons
            : estate.people.persons.map((p) => persons.get(p.id) ?? p),
          estate.people.groups.map((g) => groups.get(g.id) ?? g),
        );
  return { people, tree: estate.tree.with(places), grants, links, faults: estate.faults };
}

function personOf({ people }: Estate, id: string): PersonLine {
  const person = people.persons[people.number(id) ?? -1];
  if (!person) throw new RangeError(`There is no person “${id}”.`);
  return person;
}

/** Whether two lists hold the same entries, in whatever order. */
export function sameList(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && [...a].sort().join() === [...b].sort().join();
}
