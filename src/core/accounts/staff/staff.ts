/** Somebody who works here, with an account of the desk or without. */
export interface StaffMember {
  /** E-mail, as `plainEmail` makes it: what they are known by. */
  readonly address: string;
  readonly name: string;
  readonly unit: string;
  /** Groups they are in themselves. */
  readonly groups: readonly string[];
  /** ISO 8601 day; null for those who are here. */
  readonly left: string | null;
}

/** A group of people; groups may stand in groups, also in circles. */
export interface StaffGroup {
  readonly name: string;
  /** Groups it stands in itself. */
  readonly within: readonly string[];
}

export interface Staff {
  readonly members: readonly StaffMember[];
  readonly groups: readonly StaffGroup[];
}

/**
 * Every group that somebody belongs to, with how near: 1 for one they are in themselves, 2 for one that this stands in,
 * and so on by the shortest way.
 */
export function belongsTo(
  own: readonly string[],
  within: ReadonlyMap<string, readonly string[]>,
): ReadonlyMap<string, number> {
  const near = new Map<string, number>();
  let next: readonly string[] = own;
  for (let steps = 1; next.length > 0; steps++) {
    const fresh = next.filter((g) => !near.has(g));
    for (const g of fresh) near.set(g, steps);
    next = fresh.flatMap((g) => within.get(g) ?? []);
  }
  return near;
}

export function withinOf({ groups }: Pick<Staff, 'groups'>): ReadonlyMap<string, readonly string[]> {
  return new Map(groups.map((g) => [g.name, g.within]));
}
