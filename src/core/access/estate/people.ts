import { Bitmap } from '../../lens/bitmap.ts';
import { EVERYONE, EVERYONE_HERE, type GroupLine, type PersonLine } from './estate-line.ts';

/** A person, a group, `everyone` or `everyone here`, by its id. */
export type Principal = string;

/** From a person up to a principal: the groups between, the first the one they are in themselves. */
export type Chain = readonly string[];

/** All that stand for somebody, each with the shortest chain of groups to it; of several as short the first by id. */
export class Principals {
  /** By principal, the one before it on the way; null for the person or group itself, and for who has no chain. */
  readonly #before: ReadonlyMap<Principal, Principal | null>;

  constructor(before: ReadonlyMap<Principal, Principal | null>) {
    this.#before = before;
  }

  has(principal: Principal): boolean {
    return this.#before.has(principal);
  }

  /** The nearest first. */
  keys(): IterableIterator<Principal> {
    return this.#before.keys();
  }

  /** Written out only where it is asked for: in a ring of groups chains are as long as that. */
  chain(principal: Principal): Chain {
    const chain: Principal[] = [];
    for (let here = principal; ;) {
      const before = this.#before.get(here);
      if (before === undefined || before === null) return chain.reverse();
      chain.push(here);
      here = before;
    }
  }
}

/** People and the groups that they are in, groups being in groups, also in a ring. */
export class People {
  readonly #numbers = new Map<string, number>();
  readonly #groups = new Map<string, GroupLine>();
  /** By member, person or group: the groups that name it, or whose condition holds. */
  readonly #within = new Map<string, string[]>();
  readonly #everyone: Bitmap;
  readonly #here: Bitmap;
  #closures: Map<string, Bitmap> | undefined;

  constructor(
    readonly persons: readonly PersonLine[],
    groups: readonly GroupLine[],
  ) {
    for (const [n, p] of persons.entries()) this.#numbers.set(p.id, n);
    for (const g of groups) this.#groups.set(g.id, g);
    for (const g of groups) {
      for (const member of this.#direct(g)) {
        const of = this.#within.get(member);
        if (of) of.push(g.id);
        else this.#within.set(member, [g.id]);
      }
    }
    for (const of of this.#within.values()) of.sort();
    this.#everyone = Bitmap.upTo(persons.length);
    this.#here = Bitmap.of(persons.flatMap((p, n) => (p.guest ? [] : [n])));
  }

  get groups(): readonly GroupLine[] {
    return [...this.#groups.values()];
  }

  number(id: string): number | undefined {
    return this.#numbers.get(id);
  }

  group(id: string): GroupLine | undefined {
    return this.#groups.get(id);
  }

  /** Who a principal stands for, by number; nobody where it is not known. */
  of(principal: Principal): Bitmap {
    if (principal === EVERYONE) return this.#everyone;
    if (principal === EVERYONE_HERE) return this.#here;
    const number = this.#numbers.get(principal);
    if (number !== undefined) return Bitmap.of([number]);
    this.#closures ??= this.#close();
    return this.#closures.get(principal) ?? Bitmap.EMPTY;
  }

  /** Whose account is open on a day, by number. */
  openOn(day: string): Bitmap {
    return Bitmap.of(this.persons.flatMap((p, n) => (isOpen(p, day) ? [n] : [])));
  }

  /** A group, and all groups that it is in, however deep. */
  around(group: string): readonly Principal[] {
    return [...this.#climb(group).keys()];
  }

  /** All that stand for a person. */
  principalsOf(person: PersonLine): Principals {
    const found = this.#climb(person.id);
    found.set(EVERYONE, null);
    if (!person.guest) found.set(EVERYONE_HERE, null);
    return new Principals(found);
  }

  #climb(id: string): Map<Principal, Principal | null> {
    const found = new Map<Principal, Principal | null>([[id, null]]);
    for (let edge: Principal[] = [id]; edge.length > 0;) {
      const next: Principal[] = [];
      for (const member of edge)
        for (const group of this.#within.get(member) ?? []) {
          if (found.has(group)) continue;
          found.set(group, member);
          next.push(group);
        }
      edge = next;
    }
    return found;
  }

  /** Members that a group names or describes itself; those that are not known are left out. */
  #direct(group: GroupLine): readonly string[] {
    const named = group.members.filter((m) => this.#numbers.has(m) || this.#groups.has(m));
    if (group.where.length === 0) return [...new Set(named)];
    const described = this.persons
      .filter((p) => group.where.every((w) => w.is.includes(p.attributes[w.attribute] ?? '')))
      .map((p) => p.id);
    return [...new Set([...named, ...described])];
  }

  /**
   * Everybody in each group, however deep. Groups in a ring hold the same people: they are found together (Tarjan, 1972),
   * those within before those around them. By hand, since a chain of groups may be longer than a stack.
   */
  #close(): Map<string, Bitmap> {
    const ids = [...this.#groups.keys()];
    const at = new Map(ids.map((id, i) => [id, i]));
    const members = ids.map((id) => this.#direct(this.#groups.get(id) as GroupLine));
    const inner = members.map((of) => of.flatMap((m) => at.get(m) ?? []));
    const people = members.map((of) => Bitmap.of(of.flatMap((m) => this.#numbers.get(m) ?? [])));
    const order = new Int32Array(ids.length).fill(-1);
    const low = new Int32Array(ids.length);
    const onPath = new Uint8Array(ids.length);
    const ring = new Int32Array(ids.length).fill(-1);
    const path: number[] = [];
    const closed: Bitmap[] = [];
    let counted = 0;
    for (const root of ids.keys()) {
      if ((order[root] as number) >= 0) continue;
      const walk: { readonly g: number; at: number }[] = [];
      const enter = (g: number) => {
        order[g] = low[g] = counted++;
        path.push(g);
        onPath[g] = 1;
        walk.push({ g, at: 0 });
      };
      enter(root);
      while (walk.length > 0) {
        const here = walk.at(-1) as { readonly g: number; at: number };
        const { g } = here;
        const next = (inner[g] as readonly number[])[here.at++];
        if (next !== undefined) {
          if ((order[next] as number) < 0) enter(next);
          else if (onPath[next] === 1) low[g] = Math.min(low[g] as number, order[next] as number);
          continue;
        }
        walk.pop();
        const above = walk.at(-1);
        if (above) low[above.g] = Math.min(low[above.g] as number, low[g] as number);
        if (low[g] !== order[g]) continue;
        const together: number[] = [];
        for (let one = -1; one !== g;) {
          one = path.pop() as number;
          onPath[one] = 0;
          ring[one] = closed.length;
          together.push(one);
        }
        const sets = together.flatMap((t) => [
          people[t] as Bitmap,
          ...(inner[t] as readonly number[]).flatMap((i) => closed[ring[i] as number] ?? []),
        ]);
        closed.push(Bitmap.union(sets));
      }
    }
    return new Map(ids.map((id, i) => [id, closed[ring[i] as number] ?? Bitmap.EMPTY]));
  }
}

/** The last day of work of who left before a day; null of who works here still. */
export function leftBefore({ left }: Pick<PersonLine, 'left'>, day: string): string | null {
  return left !== null && left < day ? left : null;
}

/** Whether an account opens anything on a day. */
export function isOpen({ state, until }: Pick<PersonLine, 'state' | 'until'>, day: string): boolean {
  return state === 'open' && (until === null || day <= until);
}
