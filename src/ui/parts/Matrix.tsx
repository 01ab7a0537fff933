import { scaleSqrt } from 'd3-scale';
import { useRef } from 'react';
import { numberWords } from '../desk/words.ts';
import css from './Matrix.module.css';

export interface MatrixHead {
  readonly key: string;
  readonly name: string;
}

export interface MatrixChoice {
  readonly row?: string | undefined;
  readonly column?: string | undefined;
}

interface MatrixProps {
  /** What the rows are, above them. */
  readonly corner: string;
  readonly label: string;
  readonly rows: readonly MatrixHead[];
  readonly columns: readonly MatrixHead[];
  /** 0 for none. */
  readonly value: (row: string, column: string) => number;
  readonly chosen: MatrixChoice;
  /** A cell, a row or a column; what is chosen already is let go. */
  readonly onChoose: (choice: MatrixChoice) => void;
}

/**
 * How often two things come together: a shade and a number a cell. Arrows move between cells, Enter chooses one; the
 * heads choose their row or column.
 */
export function Matrix({ corner, label, rows, columns, value, chosen, onChoose }: MatrixProps) {
  const body = useRef<HTMLTableSectionElement>(null);
  const most = Math.max(1, ...rows.flatMap((r) => columns.map((c) => value(r.key, c.key))));
  const shade = scaleSqrt().domain([0, most]).range([6, 42]);
  const is = (row: string | undefined, column: string | undefined) =>
    chosen.row === row && chosen.column === column;
  const choose = (row?: string, column?: string) => onChoose(is(row, column) ? {} : { row, column });
  const keys = (e: React.KeyboardEvent, r: number, c: number) => {
    const [dr, dc] = STEPS[e.key] ?? [0, 0];
    if (dr === 0 && dc === 0) return;
    e.preventDefault();
    body.current?.querySelector<HTMLButtonElement>(`[data-at="${r + dr} ${c + dc}"]`)?.focus();
  };
  return (
    <table className={css['matrix']} aria-label={label}>
      <thead>
        <tr>
          <th scope="col">{corner}</th>
          {columns.map((c) => (
            <th key={c.key} scope="col" aria-label={c.name}>
              <button
                type="button"
                aria-pressed={is(undefined, c.key)}
                onClick={() => choose(undefined, c.key)}
              >
                {c.name}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody ref={body}>
        {rows.map((r, i) => (
          <tr key={r.key}>
            <th scope="row">
              <button type="button" aria-pressed={is(r.key, undefined)} onClick={() => choose(r.key)}>
                {r.name}
              </button>
            </th>
            {columns.map((c, j) => {
              const n = value(r.key, c.key);
              return (
                <td key={c.key}>
                  <button
                    type="button"
                    data-at={`${i} ${j}`}
                    aria-label={`${r.name}, ${c.name}: ${numberWords(n)}`}
                    aria-pressed={is(r.key, c.key)}
                    tabIndex={i === 0 && j === 0 ? 0 : -1}
                    style={
                      n > 0 && !is(r.key, c.key)
                        ? {
                            background: `color-mix(in srgb, var(--spruce-2) ${Math.round(shade(n))}%, transparent)`,
                          }
                        : undefined
                    }
                    onClick={() => choose(r.key, c.key)}
                    onKeyDown={(e) => keys(e, i, j)}
                  >
                    {n === 0 ? '·' : numberWords(n)}
                  </button>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
};
