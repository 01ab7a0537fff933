/** Groups of fewer people are told together, so that nobody is told alone. */
export const LEAST_PEOPLE = 5;

export interface UnitCount {
  /** '' for those that are told together. */
  readonly unit: string;
  readonly people: number;
  readonly acts: number;
}

/** Acts by the unit of whoever did them. */
export class UnitCounts {
  readonly #units = new Map<string, { people: Set<string>; acts: number }>();

  add(unit: string, person: string): void {
    const of = this.#units.get(unit) ?? { people: new Set<string>(), acts: 0 };
    of.people.add(person);
    of.acts++;
    this.#units.set(unit, of);
  }

  /** The most acts first. Units with too few people are told together; where they are still too few, not at all. */
  counts(): readonly UnitCount[] {
    const all = [...this.#units].map(([unit, { people, acts }]) => ({ unit, people: people.size, acts }));
    const told = all
      .filter((u) => u.unit !== '' && u.people >= LEAST_PEOPLE)
      .toSorted((a, b) => b.acts - a.acts);
    const few = all.filter((u) => !told.includes(u));
    const together = {
      unit: '',
      people: few.reduce((n, u) => n + u.people, 0),
      acts: few.reduce((n, u) => n + u.acts, 0),
    };
    return together.people >= LEAST_PEOPLE ? [...told, together] : told;
  }
}
