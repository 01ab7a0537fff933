import { changedEstate, type AccessStep } from '../change/access-change.ts';
import { Reach } from '../reach/reach.ts';
import type { GrantLine, GroupLine, LinkLine, PersonLine, PlaceLine } from './estate-line.ts';
import { EstateReader, type Estate } from './estate.ts';
import { rowIdentity, type EstateRow } from './estate-row.ts';

/** What came and what went between two moments. */
export interface RowChanges {
  readonly came: readonly EstateRow[];
  readonly went: readonly EstateRow[];
}

/** The rows of an estate by what makes each the one it is; what changed is put in and taken out. */
export class EstateRows {
  readonly #persons = new Map<string, PersonLine>();
  readonly #groups = new Map<string, GroupLine>();
  readonly #members = new Map<string, Set<string>>();
  readonly #places = new Map<string, PlaceLine>();
  readonly #grants = new Map<string, GrantLine>();
  readonly #links = new Map<string, LinkLine>();

  put(row: EstateRow): void {
    switch (row.type) {
      case 'person':
        this.#persons.set(row.id, row);
        return;
      case 'group':
        this.#groups.set(row.id, row);
        return;
      case 'member': {
        const of = this.#members.get(row.group);
        if (of) of.add(row.member);
        else this.#members.set(row.group, new Set([row.member]));
        return;
      }
      case 'place':
        this.#places.set(row.id, row);
        return;
      case 'grant':
        this.#grants.set(rowIdentity(row), row);
        return;
      case 'link':
        this.#links.set(rowIdentity(row), row);
        return;
    }
  }

  drop(row: EstateRow): void {
    switch (row.type) {
      case 'person':
        this.#persons.delete(row.id);
        return;
      case 'group':
        this.#groups.delete(row.id);
        return;
      case 'member':
        this.#members.get(row.group)?.delete(row.member);
        return;
      case 'place':
        this.#places.delete(row.id);
        return;
      case 'grant':
        this.#grants.delete(rowIdentity(row));
        return;
      case 'link':
        this.#links.delete(rowIdentity(row));
        return;
    }
  }

  change({ came, went }: RowChanges): void {
    for (const row of went) this.drop(row);
    for (const row of came) this.put(row);
  }

  estate(): Estate {
    const reader = new EstateReader();
    for (const person of this.#persons.values()) reader.take(person);
    for (const group of this.#groups.values())
      reader.take({ ...group, members: [...(this.#members.get(group.id) ?? [])] });
    for (const place of this.#places.values()) reader.take(place);
    for (const grant of this.#grants.values()) reader.take(grant);
    for (const link of this.#links.values()) reader.take(link);
    return reader.done();
  }
}

/**
 * The reach after some rows came and went, without reading the estate anew; `undefined` where people, groups or places came
 * or went, which only reading anew can tell.
 */
export function changedReach(reach: Reach, { came, went }: RowChanges): Reach | undefined {
  const steps: AccessStep[] = [];
  const places = new Set<number>();
  const { people, tree } = reach.estate;
  const beforePlace = new Map(went.flatMap((r) => (r.type === 'place' ? [[r.id, r] as const] : [])));
  const stays = new Set(came.flatMap((r) => (r.type === 'place' ? [r.id] : [])));
  for (const [act, rows] of [
    ['take', went],
    ['add', came],
  ] as const)
    for (const row of rows)
      switch (row.type) {
        case 'person':
        case 'group':
          return undefined;
        case 'member':
          // Who is not known is in no group that counts.
          if (!people.group(row.group)) return undefined;
          steps.push({ is: 'member', act, group: row.group, member: row.member });
          break;
        case 'place': {
          const before = beforePlace.get(row.id);
          const number = tree.number(row.id);
          if (act === 'take') {
            if (!stays.has(row.id)) return undefined;
            break;
          }
          if (!before || number === undefined || !isSamePlace(before, row)) return undefined;
          if (before.inherits !== row.inherits)
            steps.push({ is: 'inherits', place: row.id, before: before.inherits, after: row.inherits });
          if (before.owner !== row.owner)
            steps.push({ is: 'owner', place: row.id, before: before.owner, after: row.owner });
          places.add(number);
          break;
        }
        case 'grant':
        case 'link': {
          const number = tree.number(row.place);
          if (number === undefined) return undefined;
          places.add(number);
          steps.push(
            row.type === 'grant' ? { is: 'grant', act, grant: row } : { is: 'link', act, link: row },
          );
          break;
        }
      }
  try {
    return new Reach(changedEstate(reach.estate, steps), reach.day, { reach, places });
  } catch (error) {
    // What does not fit is read anew.
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** But for what a step can change. */
function isSamePlace(a: PlaceLine, b: PlaceLine): boolean {
  const plain = (p: PlaceLine) => JSON.stringify({ ...p, inherits: true, owner: null });
  return plain(a) === plain(b);
}
