/** Rows of a sheet, and where each row and column of them stood in it, from 0. */
export interface SheetRows {
  readonly rows: readonly (readonly string[])[];
  readonly rowAt: (row: number) => number;
  readonly columnAt: (column: number) => number;
}

export interface SheetCell {
  readonly row: number;
  readonly column: number;
  readonly text: string;
}

/** Fields of a grid that are laid out as they are. */
const PLAIN = 2_000_000;
/** Fields for each cell beyond which cells are strewn about, and no table. */
const STREWN = 50;
/** Empty rows or columns that are kept of a longer stretch: enough to part two tables. */
const KEPT_EMPTY = 2;

const MOST_ROW = 1_048_576;
const MOST_COLUMN = 16_384;

/** Cells of a sheet by their places: two at its far ends are two cells, not the seventeen thousand million between. */
export class SheetCells {
  readonly #rows = new Map<number, Map<number, string>>();
  #count = 0;

  set(row: number, column: number, text: string): void {
    if (!(row >= 0 && row < MOST_ROW && column >= 0 && column < MOST_COLUMN)) return;
    let cells = this.#rows.get(row);
    if (!cells) this.#rows.set(row, (cells = new Map()));
    if (!cells.has(column)) this.#count++;
    cells.set(column, text);
  }

  /** Laid out as rows, long empty stretches shortened; `undefined` where the cells are too far apart for that. */
  laidOut(): SheetRows | undefined {
    const columns = new Set<number>();
    for (const cells of this.#rows.values()) for (const column of cells.keys()) columns.add(column);
    const width = largest(columns) + 1;
    const height = largest(this.#rows.keys()) + 1;
    if (width * height <= PLAIN) return this.#layOut(range(height), range(width));
    const [rows, cols] = [shortened(this.#rows.keys()), shortened(columns)];
    const fields = rows.length * cols.length;
    return fields <= PLAIN || fields <= STREWN * this.#count ? this.#layOut(rows, cols) : undefined;
  }

  /** In the order of rows, and of columns in each. */
  *inOrder(): Generator<SheetCell> {
    for (const row of [...this.#rows.keys()].sort((a, b) => a - b))
      for (const [column, text] of [...(this.#rows.get(row) ?? [])].sort((a, b) => a[0] - b[0]))
        yield { row, column, text };
  }

  #layOut(rowAt: readonly number[], columnAt: readonly number[]): SheetRows {
    const rows = rowAt.map((row) => {
      const cells = this.#rows.get(row);
      if (!cells) return [];
      const line = columnAt.map((column) => cells.get(column) ?? '');
      let end = line.length;
      while (end > 0 && line[end - 1] === '') end--;
      line.length = end;
      return line;
    });
    return { rows, rowAt: (r) => rowAt[r] ?? r, columnAt: (c) => columnAt[c] ?? c };
  }
}

function range(length: number): number[] {
  return Array.from({ length }, (_, i) => i);
}

/** The given numbers in order, with at most so many of those between two of them. */
function shortened(used: Iterable<number>): number[] {
  const all: number[] = [];
  let before = -1;
  for (const n of [...used].sort((a, b) => a - b)) {
    for (let i = Math.max(before + 1, n - KEPT_EMPTY); i < n; i++) all.push(i);
    all.push(n);
    before = n;
  }
  return all;
}

/** -1 of none. */
function largest(numbers: Iterable<number>): number {
  let most = -1;
  for (const n of numbers) if (n > most) most = n;
  return most;
}
