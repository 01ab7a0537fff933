import type { Queries } from './pool.ts';

type Cell = string | number | boolean | Buffer | null;

/** Rows in one statement. */
const TOGETHER = 500;

/**
 * Sets columns of many rows of a table, each to values of its own, in as few statements as will do. `rows` are by the
 * value of `key`; `where` narrows further, with `params`.
 */
export async function updateMany(
  tx: Queries,
  table: string,
  key: string,
  rows: ReadonlyMap<string | number, Readonly<Record<string, Cell>>>,
  where = '',
  params: readonly (string | number)[] = [],
): Promise<void> {
  const all = [...rows];
  const [first] = all;
  if (!first) return;
  const columns = Object.keys(first[1]);
  for (let from = 0; from < all.length; from += TOGETHER) {
    const part = all.slice(from, from + TOGETHER);
    const sets = columns.map((c) => `${c} = CASE ${key} ${part.map(() => 'WHEN ? THEN ?').join(' ')} END`);
    const values = columns.flatMap((c) => part.flatMap(([k, row]): Cell[] => [k, row[c] ?? null]));
    await tx.run(`UPDATE ${table} SET ${sets.join(', ')} WHERE ${key} IN (?)${where && ` AND ${where}`}`, [
      ...values,
      part.map(([k]) => k),
      ...params,
    ]);
  }
}
