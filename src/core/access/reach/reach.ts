import { Bitmap } from '../../lens/bitmap.ts';
import { ANYONE, type GrantLine, type LinkLine, type PersonLine } from '../estate/estate-line.ts';
import type { Estate } from '../estate/estate.ts';
import { isOpen, type Chain, type Principal, type Principals } from '../estate/people.ts';
import {
  posixAcl,
  posixAllows,
  posixPasses,
  posixSteps,
  type PosixAcl,
  type PosixPerson,
  type PosixWay,
} from './posix.ts';
import { from, givenBy, highest, NO_STEPS, STRENGTHS, upTo, type Steps, type Strength } from './strength.ts';

const ALL: Steps = upTo('give');

/** What a place and those above it say of a person: by grants, which a nearer one overrides; and by what no denial binds. */
interface Said {
  readonly granted: Steps;
  readonly past: Steps;
}
const NOTHING_SAID: Said = { granted: NO_STEPS, past: NO_STEPS };

/** One way by which somebody comes to a strength. */
export type Way =
  | {
      readonly is: 'grant' | 'link';
      readonly strength: Strength;
      /** The place that it is given at. */
      readonly at: string;
      /** The groups between, the person’s own first; then the one it is given to. */
      readonly through: Chain;
      readonly to: Principal | typeof ANYONE;
      /** Of links. */
      readonly id?: string;
      readonly until: string | null;
      /** A denial nearer by, or at the same place, takes all of it away. */
      readonly beaten: boolean;
    }
  | { readonly is: 'owner'; readonly strength: 'give'; readonly at: string }
  | { readonly is: 'file system'; readonly strength: Strength; readonly at: string; readonly by: PosixWay };

/** What denies somebody a step that something else would give. */
export interface Denial {
  readonly step: Strength;
  readonly at: string;
  readonly to: Principal;
  readonly through: Chain;
}

/** What one person can do at one place, and why. */
export interface PairReach {
  /** Null for nothing. */
  readonly strength: Strength | null;
  readonly steps: Steps;
  readonly ways: readonly Way[];
  readonly denials: readonly Denial[];
  /** The place above that nothing below is reached past. */
  readonly stoppedAt: string | null;
  /** Why nothing of it comes true: the account is not open. */
  readonly closed: boolean;
  /** Why nobody can say; then the strength is what is known so far. */
  readonly unknown: string | null;
}

/** How many places somebody reaches, by the highest strength. */
export type ReachCounts = Readonly<Record<Strength, number>>;

export interface ReachedPlace {
  readonly place: number;
  readonly steps: Steps;
}

export interface PersonReach {
  readonly counts: ReachCounts;
  /** Places of which nobody can say. */
  readonly unknown: number;
  /** In the order of places, as many as were asked for. */
  readonly first: readonly ReachedPlace[];
  /** Where to go on behind them; null at the end. */
  readonly next: number | null;
}

/** What anybody who has a link can do at a place. */
export interface OpenToAnyone {
  readonly strength: Strength;
  readonly at: string;
  readonly id: string;
  readonly until: string | null;
}

/**
 * Who reaches which place on a day. For an inheriting place each step is decided by the nearest place, up to where nothing is
 * inherited, with an entry about the person that covers it; at one place a denial wins. Owners and links are bound by no
 * denial. Below a gate nobody reaches what they do not see the gate of. In a file system the kernel’s own rules decide.
 */
export class Reach {
  readonly #open: Bitmap;
  readonly #relevant: Map<Principal, readonly number[]>;
  readonly #anyone: readonly number[];
  readonly #acls = new Map<number, PosixAcl>();
  readonly #gates = new Map<number, readonly Bitmap[]>();
  readonly #posixPeople = new Map<string, PosixPerson | undefined>();
  readonly #hasGates: boolean;
  /** Nothing but inheritance decides. */
  readonly #isPlain: boolean;

  /** @param from the reach of an estate that differs at some places alone, and in its groups: what it knows is not read anew. */
  constructor(
    readonly estate: Estate,
    readonly day: string,
    from?: { readonly reach: Reach; readonly places: Iterable<number> },
  ) {
    const { people, tree } = estate;
    if (from && from.reach.day === day) {
      const { reach } = from;
      this.#open = reach.estate.people.persons === people.persons ? reach.#open : people.openOn(day);
      this.#hasGates = reach.#hasGates;
      this.#isPlain = reach.#isPlain;
      this.#relevant = new Map(reach.#relevant);
      let anyone = reach.#anyone;
      for (const at of from.places) {
        for (const principal of new Set(reach.#notedAt(at)))
          this.#relevant.set(
            principal,
            (this.#relevant.get(principal) ?? []).filter((p) => p !== at),
          );
        for (const principal of new Set(this.#notedAt(at)))
          this.#relevant.set(
            principal,
            [...(this.#relevant.get(principal) ?? []), at].sort((x, y) => x - y),
          );
        anyone = anyone.filter((p) => p !== at);
        if (this.#hasLinkForAnyone(at)) anyone = [...anyone, at].sort((x, y) => x - y);
      }
      this.#anyone = anyone;
      return;
    }
    this.#open = people.openOn(day);
    const relevant = new Map<Principal, number[]>();
    const anyone: number[] = [];
    let [hasGates, isPlain] = [false, true];
    for (const [at, place] of tree.places.entries()) {
      hasGates ||= place.gate;
      isPlain &&= place.posix === undefined && place.unknown === undefined;
      for (const principal of this.#notedAt(at)) {
        const of = relevant.get(principal);
        if (!of) relevant.set(principal, [at]);
        else if (of.at(-1) !== at) of.push(at);
      }
      if (this.#hasLinkForAnyone(at)) anyone.push(at);
    }
    this.#relevant = relevant;
    this.#anyone = anyone;
    this.#hasGates = hasGates;
    this.#isPlain = isPlain && !hasGates;
  }

  /** Everybody who reaches a place, by step: `[see, read, change, give]`, people by number. */
  whoReaches(at: number): readonly Bitmap[] {
    return this.#unopened(at).map((set) => set.and(this.#open));
  }

  /** What whoever has a link can do there, the strongest first. */
  openToAnyone(at: number): readonly OpenToAnyone[] {
    const { tree, links } = this.estate;
    return tree
      .chain(at)
      .flatMap((place) =>
        (links.get(place) ?? []).flatMap((l): OpenToAnyone[] =>
          l.to === ANYONE && this.#counts(l)
            ? [{ strength: l.strength, at: tree.places[place]?.id ?? '', id: l.id, until: l.until }]
            : [],
        ),
      )
      .sort(
        (a, b) => STRENGTHS.indexOf(b.strength) - STRENGTHS.indexOf(a.strength) || (a.id < b.id ? -1 : 1),
      );
  }

  /** Places at which something is given to a principal, or denied, or that it owns; in their order. */
  placesOf(principal: Principal): readonly number[] {
    return this.#relevant.get(principal) ?? [];
  }

  /** Places at which a link is made for anyone. */
  placesOpenToAnyone(): readonly number[] {
    return this.#anyone;
  }

  /** One person at one place, with all ways and what stands against them. */
  pair(person: PersonLine, at: number): PairReach {
    const { tree } = this.estate;
    const closed = !isOpen(person, this.day);
    const place = tree.places[at];
    if (!place) throw new RangeError(`There is no place ${at}.`);
    const found = place.posix ? this.#posixPair(person, at) : this.#placePair(person, at);
    const steps = closed ? NO_STEPS : found.steps;
    return { ...found, steps, strength: highest(steps), closed };
  }

  /** All places that a person reaches: how many, and the first from a place on. */
  ofPerson(person: PersonLine, most: number, start = 0): PersonReach {
    if (!isOpen(person, this.day)) return { counts: { ...NONE }, unknown: 0, first: [], next: null };
    return this.#isPlain ? this.#byRegions(person, most, start) : this.#byWalk(person, most, start);
  }

  /** As the accounts were open for all. */
  #unopened(at: number): readonly Bitmap[] {
    const { people, tree } = this.estate;
    if (tree.places[at]?.posix) {
      const sets: number[][] = [[], [], [], []];
      for (const [n, person] of people.persons.entries()) {
        const { steps } = this.#posixPair(person, at);
        for (const i of STRENGTHS.keys()) if ((steps & (1 << i)) !== 0) sets[i]?.push(n);
      }
      return sets.map((s) => Bitmap.of(s));
    }
    const gates = this.#hasGates ? tree.above(at).filter((up) => tree.places[up]?.gate) : [];
    const reached = this.#granted(at);
    if (gates.length === 0) return reached;
    // The nearest knows those above it.
    const [nearest = -1] = gates;
    const known = this.#gates.get(nearest) ?? this.#unopened(nearest);
    this.#gates.set(nearest, known);
    return reached.map((set) => set.and(known[0] as Bitmap));
  }

  #granted(at: number): readonly Bitmap[] {
    const { people, tree, grants, links } = this.estate;
    const chain = tree.chain(at);
    const owners = Bitmap.union(
      chain.flatMap((place) => {
        const owner = tree.places[place]?.owner;
        return owner === null || owner === undefined ? [] : [people.of(owner)];
      }),
    );
    return STRENGTHS.map((_, step) => {
      const bit = 1 << step;
      let [decided, allowed] = [Bitmap.EMPTY, Bitmap.EMPTY];
      const past: Bitmap[] = [];
      for (const place of chain) {
        const here = (grants.get(place) ?? []).filter((g) => this.#counts(g));
        const sets = (deny: boolean) =>
          Bitmap.union(
            here
              .filter((g) => g.deny === deny && ((deny ? from(g.strength) : givenBy(g)) & bit) !== 0)
              .map((g) => people.of(g.to)),
          );
        const [denied, given] = [sets(true), sets(false)];
        allowed = allowed.or(given.without(decided).without(denied));
        decided = decided.or(given).or(denied);
        for (const l of links.get(place) ?? [])
          if (this.#counts(l) && l.to !== ANYONE && (upTo(l.strength) & bit) !== 0)
            past.push(...(typeof l.to === 'string' ? [l.to] : l.to).map((to) => people.of(to)));
      }
      return Bitmap.union([allowed, owners, ...past]);
    });
  }

  #placePair(person: PersonLine, at: number): Omit<PairReach, 'strength' | 'closed'> {
    const { tree, grants, links } = this.estate;
    const principals = this.estate.people.principalsOf(person);
    const chain = tree.chain(at);
    const ways: Way[] = [];
    const denials: Denial[] = [];
    let [decided, steps] = [NO_STEPS, NO_STEPS];
    for (const place of chain) {
      const { id, owner } = tree.places[place] as (typeof tree.places)[number];
      const mine = (grants.get(place) ?? []).filter((g) => this.#counts(g) && principals.has(g.to));
      const denied = mine.filter((g) => g.deny).reduce((all, g) => all | from(g.strength), NO_STEPS);
      const given = mine.filter((g) => !g.deny).reduce((all, g) => all | givenBy(g), NO_STEPS);
      for (const g of mine) {
        const through = principals.chain(g.to);
        if (!g.deny)
          ways.push({
            ...{ is: 'grant', strength: g.strength, at: id, through, to: g.to, until: g.until },
            beaten: false,
          });
        else
          for (const [i, step] of STRENGTHS.entries())
            if ((from(g.strength) & (1 << i) & ~decided) !== 0)
              denials.push({ step, at: id, to: g.to, through });
      }
      steps |= given & ~denied & ~decided;
      decided |= given | denied;
      for (const l of links.get(place) ?? []) {
        if (!this.#counts(l) || l.to === ANYONE) continue;
        for (const to of typeof l.to === 'string' ? [l.to] : l.to)
          if (principals.has(to)) {
            ways.push({
              ...{
                is: 'link',
                strength: l.strength,
                at: id,
                through: principals.chain(to),
                to,
                id: l.id,
              },
              ...{ until: l.until, beaten: false },
            });
          }
      }
      if (owner !== null && principals.has(owner)) ways.push({ is: 'owner', strength: 'give', at: id });
    }
    const granted = steps;
    for (const way of ways) if (way.is !== 'grant') steps |= upTo(way.strength);
    const stopped = this.#hasGates
      ? tree
          .above(at)
          .find(
            (up) =>
              tree.places[up]?.gate &&
              this.unknownAt(up) === null &&
              (this.#placePair(person, up).steps & 1) === 0,
          )
      : undefined;
    const unknown = this.unknownAt(at);
    return {
      steps: stopped === undefined ? steps : NO_STEPS,
      ways: ways.map((w) => (w.is === 'grant' ? { ...w, beaten: (granted & top(w.strength)) === 0 } : w)),
      denials,
      stoppedAt: stopped === undefined ? null : (tree.places[stopped]?.id ?? ''),
      unknown,
    };
  }

  /** Why nobody can say who reaches a place: its source does not tell, of it, of what it inherits from, or of what one has to pass. */
  unknownAt(at: number): string | null {
    const { tree } = this.estate;
    const above = tree.above(at);
    const gates = this.#hasGates ? above.filter((up) => tree.places[up]?.gate) : [];
    const isFile = tree.places[at]?.posix !== undefined;
    const asked = isFile ? [at, ...above] : [at, ...gates].flatMap((p) => tree.chain(p));
    return asked.map((p) => tree.places[p]?.unknown).find((u) => u !== undefined) ?? null;
  }

  #posixPair(person: PersonLine, at: number): Omit<PairReach, 'strength' | 'closed'> {
    const { tree } = this.estate;
    const nothing = { steps: NO_STEPS, ways: [], denials: [], stoppedAt: null, unknown: null };
    const unknown = this.unknownAt(at);
    if (unknown !== null) return { ...nothing, unknown };
    const who = this.#posixPerson(person);
    if (!who) return nothing;
    const stopped = tree.above(at).find((up) => !posixPasses(who, this.#acl(up)));
    const { id } = tree.places[at] as (typeof tree.places)[number];
    if (stopped !== undefined) return { ...nothing, stoppedAt: tree.places[stopped]?.id ?? '' };
    const acl = this.#acl(at);
    const steps = posixSteps(who, acl);
    const { way } = posixAllows(who, acl, 0);
    return {
      ...nothing,
      steps,
      ways: [{ is: 'file system', strength: highest(steps) ?? 'see', at: id, by: way }],
    };
  }

  /** Of inheriting places: as much work as there are entries about the person. */
  #byRegions(person: PersonLine, most: number, start: number): PersonReach {
    const { tree } = this.estate;
    const principals = this.estate.people.principalsOf(person);
    const places = new Set<number>();
    for (const principal of principals.keys())
      for (const at of this.#relevant.get(principal) ?? []) places.add(at);
    const relevant = Uint32Array.from(places).sort();
    const steps = new Map<number, Steps>();
    const said = new Map<number, Said>();
    const alone = new Map<number, number>();
    const within: number[] = [];
    for (const at of relevant) {
      while (within.length > 0 && (tree.end[within.at(-1) as number] as number) <= at) within.pop();
      const above = within.findLast((up) => tree.region[up] === tree.region[at]);
      const all = tree.inRegion[at] as number;
      alone.set(at, all);
      if (above !== undefined) alone.set(above, (alone.get(above) as number) - all);
      within.push(at);
      // Between the two, nothing says anything of the person.
      const here = this.#saidAt(
        principals,
        at,
        (above === undefined ? undefined : said.get(above)) ?? NOTHING_SAID,
      );
      said.set(at, here);
      steps.set(at, here.granted | here.past);
    }
    const counts = { ...NONE };
    for (const [at, n] of alone) {
      const strength = highest(steps.get(at) ?? NO_STEPS);
      if (strength) counts[strength] += n;
    }
    const first: ReachedPlace[] = [];
    let at = start;
    for (let r = 0; at < tree.places.length && first.length < most;) {
      while (r < relevant.length && (relevant[r] as number) <= at) r++;
      const next = relevant[r] ?? tree.places.length;
      let up = at;
      while (!places.has(up) && up !== tree.region[up]) up = tree.parent[up] as number;
      const here = places.has(up) ? (steps.get(up) ?? NO_STEPS) : NO_STEPS;
      if (here !== NO_STEPS) first.push({ place: at++, steps: here });
      // Nothing below it is reached before the next place that says something of the person.
      else at = Math.min(next, Math.max(at + 1, tree.end[at] as number));
    }
    return { counts, unknown: 0, first, next: at < tree.places.length ? at : null };
  }

  /** By nothing but what concerns a person. */
  #stepsAt(principals: Principals, at: number): Steps {
    const { tree } = this.estate;
    const said = tree
      .chain(at)
      .toReversed()
      .reduce<Said>((above, place) => this.#saidAt(principals, place, above), NOTHING_SAID);
    return said.granted | said.past;
  }

  /** What a place says of a person, on top of what those above it say. */
  #saidAt(principals: Principals, place: number, above: Said): Said {
    const { tree, grants, links } = this.estate;
    let [given, denied, past] = [NO_STEPS, NO_STEPS, above.past];
    for (const g of grants.get(place) ?? [])
      if (principals.has(g.to) && this.#counts(g)) {
        if (g.deny) denied |= from(g.strength);
        else given |= givenBy(g);
      }
    for (const l of links.get(place) ?? [])
      if (
        l.to !== ANYONE &&
        this.#counts(l) &&
        (typeof l.to === 'string' ? [l.to] : l.to).some((to) => principals.has(to))
      )
        past |= upTo(l.strength);
    const owner = tree.places[place]?.owner;
    if (owner !== null && owner !== undefined && principals.has(owner)) past = ALL;
    return { granted: (given & ~denied) | (above.granted & ~given & ~denied), past };
  }

  /** Place by place, where file systems, gates or what is unknown have their say. */
  #byWalk(person: PersonLine, most: number, start: number): PersonReach {
    const { tree } = this.estate;
    const principals = this.estate.people.principalsOf(person);
    const who = this.#posixPerson(person);
    const counts = { ...NONE };
    const first: ReachedPlace[] = [];
    let unknown = 0;
    let next: number | null = null;
    const passes = new Uint8Array(tree.places.length);
    const dark = new Uint8Array(tree.places.length);
    const behindDark = new Uint8Array(tree.places.length);
    for (const [at, place] of tree.places.entries()) {
      const up = tree.parent[at] as number;
      const open = up < 0 || passes[up] === 1;
      // What is unknown is so for what inherits from it, and for all below it in a file system.
      const inherits = up >= 0 && (place.posix !== undefined || tree.region[at] === tree.region[up]);
      const isBehind = up >= 0 && behindDark[up] === 1;
      dark[at] = place.unknown !== undefined || isBehind || (inherits && dark[up] === 1) ? 1 : 0;
      behindDark[at] = isBehind || (place.gate && dark[at] === 1) ? 1 : 0;
      if (dark[at] === 1) {
        unknown++;
        passes[at] = open ? 1 : 0;
        continue;
      }
      let steps = NO_STEPS;
      if (place.posix) {
        if (who && open) steps = posixSteps(who, this.#acl(at));
        passes[at] = open && who !== undefined && posixPasses(who, this.#acl(at)) ? 1 : 0;
      } else {
        if (open) steps = this.#stepsAt(principals, at);
        passes[at] = open && (!place.gate || (steps & 1) !== 0) ? 1 : 0;
      }
      const strength = highest(steps);
      if (!strength) continue;
      counts[strength]++;
      if (at < start) continue;
      if (first.length < most) first.push({ place: at, steps });
      else next ??= at;
    }
    return { counts, unknown, first, next };
  }

  /** Whom a place says something of. */
  #notedAt(at: number): readonly Principal[] {
    const { tree, grants, links } = this.estate;
    const owner = tree.places[at]?.owner;
    const noted: Principal[] = owner === null || owner === undefined ? [] : [owner];
    for (const g of grants.get(at) ?? []) if (this.#counts(g)) noted.push(g.to);
    for (const l of links.get(at) ?? [])
      if (this.#counts(l) && l.to !== ANYONE) noted.push(...(typeof l.to === 'string' ? [l.to] : l.to));
    return noted;
  }

  #hasLinkForAnyone(at: number): boolean {
    return (this.estate.links.get(at) ?? []).some((l) => l.to === ANYONE && this.#counts(l));
  }

  #counts({ until }: Pick<GrantLine | LinkLine, 'until'>): boolean {
    return until === null || this.day <= until;
  }

  #acl(at: number): PosixAcl {
    const known = this.#acls.get(at);
    if (known) return known;
    const posix = this.estate.tree.places[at]?.posix;
    // A folder above that nobody told of is one that everybody passes.
    const acl: PosixAcl = posix
      ? posixAcl(posix)
      : { is: 'folder', uid: -1, gid: -1, owner: 7, users: [], groups: [], mask: undefined, other: 7 };
    this.#acls.set(at, acl);
    return acl;
  }

  #posixPerson(person: PersonLine): PosixPerson | undefined {
    if (person.uid === undefined) return undefined;
    if (this.#posixPeople.has(person.id)) return this.#posixPeople.get(person.id);
    const gids = new Set(person.gid === undefined ? [] : [person.gid]);
    for (const principal of this.estate.people.principalsOf(person).keys()) {
      const gid = this.estate.people.group(principal)?.gid;
      if (gid !== undefined) gids.add(gid);
    }
    const known = { uid: person.uid, gids };
    this.#posixPeople.set(person.id, known);
    return known;
  }
}

const top = (strength: Strength): Steps => 1 << STRENGTHS.indexOf(strength);

const NONE: ReachCounts & Record<Strength, number> = { see: 0, read: 0, change: 0, give: 0 };
