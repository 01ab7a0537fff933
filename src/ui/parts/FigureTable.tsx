import type { ReactNode } from 'react';
import css from './FigureTable.module.css';

interface FigureTableProps {
  /** Headings from left to right; `{ figure }` stands over figures. */
  readonly columns: readonly (string | { readonly figure: string } | { readonly unseen: string })[];
  readonly rows: readonly { readonly key: string | number; readonly cells: readonly ReactNode[] }[];
}

/** A short table within a sheet, all of it at once: words on the left, figures on the right. */
export function FigureTable({ columns, rows }: FigureTableProps) {
  const number = columns.map((c) => (typeof c === 'object' && 'figure' in c ? css['number'] : undefined));
  return (
    <table className={css['table']}>
      <thead>
        <tr>
          {columns.map((c, i) => (
            <th key={i} scope="col" className={number[i]}>
              {typeof c === 'string' ? (
                c
              ) : 'figure' in c ? (
                c.figure
              ) : (
                <span className={css['unseen']}>{c.unseen}</span>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ key, cells }) => (
          <tr key={key}>
            {cells.map((cell, i) => (
              <td key={i} className={number[i]}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
