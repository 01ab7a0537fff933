import { scaleLinear } from 'd3-scale';
import { useState } from 'react';
import { percentWords } from '../desk/words.ts';
import css from './IntervalChart.module.css';

export interface IntervalRow {
  readonly key: string;
  readonly name: string;
  readonly share: number;
  readonly low: number;
  readonly high: number;
  readonly count: string;
  readonly href?: string;
}

/** Shares with their 95% intervals, a row each; can be read as a table. */
export function IntervalChart({
  title,
  of = 'region',
  rows,
}: {
  readonly title: string;
  /** What the rows are. */
  readonly of?: string;
  readonly rows: readonly IntervalRow[];
}) {
  const [asTable, setAsTable] = useState(false);
  const x = scaleLinear([0, 1], [0, 100]);
  return (
    <figure className={css['chart']}>
      {asTable ? (
        <table>
          <caption className="only-read-out">{title}</caption>
          <thead>
            <tr>
              <th>{of[0]?.toUpperCase() + of.slice(1)}</th>
              <th>Share</th>
              <th>95% interval</th>
              <th>Of</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.key}>
                <th scope="row">{r.name}</th>
                <td>{percentWords(r.share, 1)}</td>
                <td>
                  {percentWords(r.low, 1)} to {percentWords(r.high, 1)}
                </td>
                <td>{r.count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <ul className={css['rows']} aria-label={title}>
          {rows.map((r) => (
            <li key={r.key}>
              <a
                href={r.href}
                className={css['row']}
                aria-label={`${r.name}: ${percentWords(r.share)}, 95% interval ${percentWords(r.low)} to ${percentWords(r.high)}, of ${r.count}`}
              >
                <span className={css['name']}>{r.name}</span>
                <svg viewBox="0 0 100 10" preserveAspectRatio="none" className={css['line']} aria-hidden>
                  <line x1="0" x2="100" y1="5" y2="5" className={css['axis']} />
                  <rect
                    x={x(r.low)}
                    width={Math.max(0.6, x(r.high) - x(r.low))}
                    y="3.4"
                    height="3.2"
                    className={css['interval']}
                  />
                  <rect x={x(r.share) - 0.9} width="1.8" y="1" height="8" className={css['point']} />
                </svg>
                <span className={css['value']}>{percentWords(r.share)}</span>
              </a>
            </li>
          ))}
        </ul>
      )}
      <figcaption>
        {asTable ? '' : 'Bars are 95% intervals. '}
        <button type="button" onClick={() => setAsTable(!asTable)}>
          {asTable ? 'Show as a chart' : 'Read as a table'}
        </button>
      </figcaption>
    </figure>
  );
}
