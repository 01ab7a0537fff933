import { comparable } from '../../../../core/text/mask.ts';
import {
  LONGEST_KEY,
  RosterBuilder,
  SHORTEST_KEY,
  type Roster,
} from '../../../../core/holdings/detection/roster/roster.ts';
import { columnNamed, readTableOf } from '../../../files/table-file.ts';

export interface RosterTableInput {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  /** Headings. */
  readonly keys: readonly string[];
  readonly beside: readonly string[];
}

/** How much of a table can be met in texts. */
export interface RosterCoverage {
  readonly rows: number;
  /** Rows that have at least one value to be met by. */
  readonly usable: number;
  /** Keys that stand in more than one row. */
  readonly repeated: number;
  readonly columns: readonly {
    readonly heading: string;
    readonly use: 'key' | 'beside';
    readonly filled: number;
    /** Too short or too long to be met. */
    readonly unfit: number;
  }[];
}

export interface BuiltRoster {
  readonly roster: Roster;
  readonly coverage: RosterCoverage;
}

/** Reads a table and builds its roster. Throws an Error that lists the columns where one is missing. */
export async function buildRoster(
  bytes: Buffer,
  file: string,
  input: RosterTableInput,
  key: Uint8Array,
  progress: (share: number) => void,
): Promise<BuiltRoster> {
  const table = await readTableOf(file, bytes);
  progress(0.4);
  const keys = input.keys.map((k) => columnNamed(table, k));
  const corroborating = input.beside.map((b) => columnNamed(table, b));
  const builder = new RosterBuilder(
    {
      id: input.id,
      name: input.name,
      version: input.version,
      headings: table.headings,
      columns: { keys, corroborating },
      expected: table.rows.length,
    },
    key,
  );
  for (const [i, row] of table.rows.entries()) {
    builder.add(row);
    if (i % 50_000 === 0) progress(0.4 + (0.6 * i) / table.rows.length);
  }
  const roster = builder.done();
  const column = (at: number, use: 'key' | 'beside') => {
    let filled = 0;
    let unfit = 0;
    for (const row of table.rows) {
      const { length } = comparable(row[at] ?? '');
      if (length > 0) filled++;
      if (length > 0 && (length < (use === 'key' ? SHORTEST_KEY : 2) || length > LONGEST_KEY)) unfit++;
    }
    return { heading: table.headings[at] ?? '', use, filled, unfit };
  };
  return {
    roster,
    coverage: {
      rows: roster.rows,
      usable: roster.rows - roster.unusable,
      repeated: roster.repeated,
      columns: [...keys.map((k) => column(k, 'key')), ...corroborating.map((c) => column(c, 'beside'))],
    },
  };
}
