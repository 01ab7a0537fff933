/** What a table can tell in one of its columns. */
export interface TableField {
  readonly words: string;
  /** Headings that people give it, in small letters. */
  readonly names: readonly string[];
  readonly needed: boolean;
}

export type TableFields<F extends string> = Readonly<Record<F, TableField>>;

/** The column of each field, counted from 0. */
export type TableColumns<F extends string> = Partial<Readonly<Record<F, number>>>;

/** Columns by their headings: the whole heading first, then one that has the word in it; no column twice. */
export function guessColumns<F extends string>(
  fields: TableFields<F>,
  headings: readonly string[],
): TableColumns<F> {
  const plain = headings.map((h) => h.trim().toLowerCase().replace(/[_-]+/g, ' '));
  const taken = new Set<number>();
  const found: Partial<Record<F, number>> = {};
  const take = (field: F, matches: (heading: string, name: string) => boolean) => {
    if (found[field] !== undefined) return;
    const { words, names } = fields[field];
    for (const name of [words.toLowerCase(), ...names]) {
      const at = plain.findIndex((h, i) => !taken.has(i) && matches(h, name));
      if (at < 0) continue;
      taken.add(at);
      found[field] = at;
      return;
    }
  };
  const all = Object.keys(fields) as F[];
  for (const field of all) take(field, (h, name) => h === name);
  for (const field of all) take(field, (h, name) => h.split(/\W+/).includes(name));
  return found;
}

/** Something in a table that cannot be taken. */
export interface CellFault {
  /** Counted from 0, below the headings. */
  readonly row: number;
  /** Where it stands, as far as it is one cell's doing. */
  readonly column: number | null;
  readonly words: string;
}
