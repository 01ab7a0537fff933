import { SHORTEST_KEY } from '../../../../core/holdings/detection/roster/roster.ts';
import { comparable, mask } from '../../../../core/text/mask.ts';
import type { Table } from '../../../files/table-file.ts';

/** What a person needs to see of a table to say what its columns are. */
export interface TableSight {
  readonly rows: number;
  readonly columns: readonly ColumnSight[];
}

export interface ColumnSight {
  readonly heading: string;
  readonly filled: number;
  readonly distinct: number;
  /** Some of its values, masked. */
  readonly examples: readonly string[];
  /** What it seems fit for. */
  readonly fit: 'key' | 'beside' | 'neither';
}

export function sightOf({ headings, rows }: Table): TableSight {
  return {
    rows: rows.length,
    columns: headings.map((heading, i): ColumnSight => {
      const values = new Set<string>();
      let filled = 0;
      for (const row of rows) {
        const value = comparable(row[i] ?? '');
        if (value === '') continue;
        filled++;
        values.add(value);
      }
      const some = [...values].slice(0, 200);
      const length = some.reduce((n, v) => n + v.length, 0) / Math.max(1, some.length);
      const unique = filled > 0 && values.size / filled > 0.98 && filled / rows.length > 0.5;
      const fit =
        unique && length >= SHORTEST_KEY + 1 ? 'key' : values.size > 1 && length >= 3 ? 'beside' : 'neither';
      return {
        heading: heading || `column ${i + 1}`,
        filled,
        distinct: values.size,
        examples: rows
          .slice(0, 60)
          .flatMap((r) => r[i] || [])
          .slice(0, 3)
          .map((v) => mask(v, 'ends')),
        fit,
      };
    }),
  };
}
