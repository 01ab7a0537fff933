import {
  ANYONE,
  EstateLine,
  EVERYONE,
  EVERYONE_HERE,
  sameGrant,
  type GrantLine,
  type GroupLine,
  type LinkLine,
  type PersonLine,
  type PlaceLine,
} from './estate-line.ts';
import { People } from './people.ts';
import { PlaceTree } from './place-tree.ts';

/** A line that could not be taken, or says something that cannot be. */
export interface EstateFault {
  /** From 1; 0 for what is wrong with several. */
  readonly line: number;
  readonly words: string;
}

/** Places, people, and what people are granted, ready to be asked. */
export interface Estate {
  readonly people: People;
  readonly tree: PlaceTree;
  /** By number of the place. */
  readonly grants: ReadonlyMap<number, readonly GrantLine[]>;
  readonly links: ReadonlyMap<number, readonly LinkLine[]>;
  readonly faults: readonly EstateFault[];
}

/** Reads lines one by one, in any order; a line that cannot be read is told, and the others count. */
export class EstateReader {
  readonly #persons = new Map<string, PersonLine>();
  readonly #groups = new Map<string, GroupLine>();
  readonly #places: PlaceLine[] = [];
  readonly #grants: { readonly one: GrantLine; readonly line: number }[] = [];
  readonly #links: { readonly one: LinkLine; readonly line: number }[] = [];
  readonly #faults: EstateFault[] = [];
  #line = 0;

  add(text: string): void {
    this.#line++;
    if (text.trim() === '') return;
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch (error) {
      this.#fault(`It is no JSON: ${(error as Error).message}`);
      return;
    }
    const parsed = EstateLine.safeParse(value);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      this.#fault(`${issue?.path.join('.') || 'line'}: ${issue?.message ?? 'It cannot be read.'}`);
      return;
    }
    this.take(parsed.data);
  }

  take(line: EstateLine): void {
    switch (line.type) {
      case 'person':
      case 'group': {
        const other = line.type === 'person' ? this.#groups : this.#persons;
        if (other.has(line.id)) return this.#fault(`“${line.id}” is a person and a group.`);
        if (line.type === 'person') this.#persons.set(line.id, line);
        else this.#groups.set(line.id, line);
        return;
      }
      case 'place':
        this.#places.push(line);
        return;
      case 'grant':
        this.#grants.push({ one: line, line: this.#line });
        return;
      case 'link':
        this.#links.push({ one: line, line: this.#line });
        return;
    }
  }

  done(): Estate {
    const tree = PlaceTree.of(this.#places);
    const people = new People([...this.#persons.values()], [...this.#groups.values()]);
    const isKnown = (id: string) =>
      id === EVERYONE ||
      id === EVERYONE_HERE ||
      people.number(id) !== undefined ||
      people.group(id) !== undefined;
    const faults = [...this.#faults];
    if (tree.rings.length > 0)
      faults.push({
        line: 0,
        words: `${tree.rings
          .slice(0, 5)
          .map((r) => `“${r}”`)
          .join(
            ', ',
          )}${tree.rings.length > 5 ? ' and more' : ''} lie below themselves; the first of them stands right below its source.`,
      });
    const at = <T extends { readonly place: string }>(
      of: Iterable<{ readonly one: T; readonly line: number }>,
      to: (one: T) => readonly string[],
      same: (a: T, b: T) => boolean,
    ) => {
      const found = new Map<number, T[]>();
      for (const { one, line } of of) {
        const place = tree.number(one.place);
        if (place === undefined) {
          faults.push({ line, words: `There is no place “${one.place}”.` });
          continue;
        }
        for (const id of to(one)) if (!isKnown(id)) faults.push({ line, words: `Nobody is called “${id}”.` });
        const known = found.get(place);
        const twin = known?.findIndex((k) => same(k, one)) ?? -1;
        if (!known) found.set(place, [one]);
        else if (twin < 0) known.push(one);
        // Written twice it counts once, as it was written last.
        else known[twin] = one;
      }
      return found;
    };
    return {
      people,
      tree,
      grants: at(this.#grants, (g) => [g.to], sameGrant),
      links: at(
        this.#links,
        (l) => (l.to === ANYONE ? [] : typeof l.to === 'string' ? [l.to] : l.to),
        (a, b) => a.id === b.id,
      ),
      faults,
    };
  }

  #fault(words: string): void {
    this.#faults.push({ line: this.#line, words });
  }
}
