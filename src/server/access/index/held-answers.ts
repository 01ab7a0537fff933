import { isOpen, leftBefore } from '../../../core/access/estate/people.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { daysBefore, USED_DAYS } from './place-answers.ts';

/** Who reaches what lies somewhere. */
export interface HeldReach {
  /** As it was asked: the id of a source of Holdings, and the names of places and an item below it (`3/Lists/crew.xlsx`). */
  readonly lies: string;
  /** Of the nearest place whose rights are known; `null` where none is. */
  readonly key: string | null;
  readonly people: number;
  readonly guests: number;
  /** Whose work is over, and whose account is open. */
  readonly leavers: number;
  /** Who used it in the last 90 days; `null` where nobody tells of uses. */
  readonly used: number | null;
  /** Whoever has a link reaches something of it. */
  readonly anyone: boolean;
  /** Why of something of it nobody can say who reaches it; `null` where of all one can. */
  readonly unknown: string | null;
}

/** Places below with rights of their own are looked at up to so many. */
const MOST_BELOW = 5000;

/** Who reaches what lies somewhere, or in anything below it. */
export function heldReach(view: EstateView, lies: readonly string[]): readonly HeldReach[] {
  const { estate, reach, marks, uses } = view;
  const { tree, people } = estate;
  const holding = new Map<string, number[]>();
  for (const [id, at] of view.holds) {
    const n = tree.number(id);
    if (n !== undefined) holding.set(at, [...(holding.get(at) ?? []), n]);
  }
  const since = daysBefore(reach.day, USED_DAYS);
  return lies.map((one): HeldReach => {
    const near = nearest(one, holding);
    if (!near) return { ...NOBODY, lies: one };
    const all = near.flatMap((at) => [at, ...marks.listBelow(at, MOST_BELOW)]);
    const told = all.filter((at) => reach.unknownAt(at) === null);
    const who = told.flatMap((at) => [...reach.whoReaches(at)]).reduce((a, b) => a.or(b), Bitmap.EMPTY);
    const used = new Set(
      near.flatMap((at) => [...(uses.get(at) ?? [])].flatMap(([n, day]) => (day >= since ? [n] : []))),
    );
    let [guests, leavers] = [0, 0];
    who.forEach((n) => {
      const person = people.persons[n];
      if (person?.guest) guests++;
      if (person && leftBefore(person, reach.day) !== null) leavers++;
    });
    return {
      ...{
        lies: one,
        key: idKey(tree.places[near[0] as number]?.id ?? ''),
        people: who.size,
        guests,
        leavers,
      },
      ...{
        used: uses.size > 0 ? used.size : null,
        anyone: all.some((at) => reach.openToAnyone(at).length > 0),
        unknown: all.map((at) => reach.unknownAt(at)).find((u) => u !== null) ?? null,
      },
    };
  });
}

const NOBODY = {
  key: null,
  people: 0,
  guests: 0,
  leavers: 0,
  used: null,
  anyone: false,
  unknown: null,
} as const;

/** Places at which something lies, or the nearest above it. */
function nearest(
  lies: string,
  holding: ReadonlyMap<string, readonly number[]>,
): readonly number[] | undefined {
  for (let here = lies; ;) {
    const found = holding.get(here);
    if (found) return found;
    const cut = here.lastIndexOf('/');
    if (cut < 0) return undefined;
    here = here.slice(0, cut);
  }
}

/** Open accounts of a firm, and where they get. */
export interface FirmReach {
  readonly accounts: readonly { readonly key: string; readonly name: string }[];
  readonly accountCount: number;
  readonly places: number;
  /** Where items lie: 0 for what they reach, 1 for what lies below that and is closed to them. */
  readonly regions: readonly (readonly [closed: 0 | 1, holds: string])[];
}

const MOST_ACCOUNTS = 50;
const MOST_REACHED = 100_000;

/** What those reach whose mail is at one of some domains, or below one. */
export function firmReach(view: EstateView, domains: readonly string[]): FirmReach {
  const { estate, reach, marks } = view;
  const wanted = domains.map((d) => d.toLowerCase());
  const accounts = estate.people.persons.filter((p) => {
    const at = p.mail?.toLowerCase().split('@')[1];
    return at !== undefined && isOpen(p, reach.day) && wanted.some((d) => at === d || at.endsWith(`.${d}`));
  });
  const places = new Set<number>();
  for (const person of accounts)
    for (let next: number | null = 0; next !== null && places.size < MOST_REACHED;) {
      const page = reach.ofPerson(person, 5000, next);
      for (const { place } of page.first) places.add(place);
      next = page.next;
    }
  const { tree } = estate;
  const isTop = (at: number) => marks.mark(at) !== 'inherits' || !places.has(tree.parent[at] as number);
  const tops = [...places].filter(isTop);
  const closed = new Set(
    tops.flatMap((at) => marks.listBelow(at, MOST_BELOW)).filter((at) => !places.has(at)),
  );
  const lying = (all: Iterable<number>, of: 0 | 1) =>
    [...all].flatMap((at): (readonly [0 | 1, string])[] => {
      const lies = view.holds.get(tree.places[at]?.id ?? '');
      return lies === undefined ? [] : [[of, lies]];
    });
  const regions = [...lying(tops, 0), ...lying(closed, 1)];
  return {
    accounts: accounts
      .slice(0, MOST_ACCOUNTS)
      .map((p) => ({ key: idKey(p.id), name: p.name ?? p.mail ?? p.id }))
      .toSorted((a, b) => (a.name < b.name ? -1 : 1)),
    accountCount: accounts.length,
    places: places.size,
    regions,
  };
}
