import { useState } from 'react';
import { dayWords, numberWords } from '../desk/words.ts';
import { ChartHead } from './ChartHead.tsx';
import css from './DayBars.module.css';

interface DayBarsProps {
  /** The question it answers. */
  readonly label: string;
  readonly unit: string;
  /** Days in ISO 8601; those between that are left out had none. */
  readonly days: readonly { readonly day: string; readonly count: number }[];
  readonly from: string;
  readonly to: string;
}

/** How many on each of some days; can be read as a table. */
export function DayBars({ label, unit, days, from, to }: DayBarsProps) {
  const [asTable, setAsTable] = useState(false);
  const counts = new Map(days.map((d) => [d.day, d.count]));
  const all: { day: string; count: number }[] = [];
  for (let at = Date.parse(from); at <= Date.parse(to); at += 86_400_000) {
    const day = new Date(at).toISOString().slice(0, 10);
    all.push({ day, count: counts.get(day) ?? 0 });
  }
  const most = Math.max(1, ...all.map((d) => d.count));
  return (
    <figure className={css['chart']}>
      <ChartHead label={label} unit={unit} drawn="a chart" asTable={asTable} onTable={setAsTable} />
      {asTable ? (
        <table>
          <tbody>
            {all
              .filter((d) => d.count > 0)
              .map((d) => (
                <tr key={d.day}>
                  <th scope="row">{dayWords(d.day)}</th>
                  <td>{numberWords(d.count)}</td>
                </tr>
              ))}
          </tbody>
        </table>
      ) : (
        <>
          <div
            className={css['bars']}
            role="img"
            aria-label={`${label}: most on one day ${numberWords(most)}`}
          >
            {all.map((d) => (
              <i
                key={d.day}
                title={`${dayWords(d.day)}: ${numberWords(d.count)}`}
                style={{ height: `${(100 * d.count) / most}%` }}
              />
            ))}
          </div>
          <p className={css['ends']}>
            <span>{dayWords(from)}</span>
            <span>{dayWords(to)}</span>
          </p>
        </>
      )}
    </figure>
  );
}
