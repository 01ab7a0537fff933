import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { useState } from 'react';
import type { MonthCount } from '../../../core/retention/rehearsal/rehearsal.ts';
import { numberWords } from '../../desk/words.ts';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { ChartHead } from '../../parts/ChartHead.tsx';
import css from '../retention.module.css';

const [WIDTH, HEIGHT] = [280, 110];
const BOTTOM = 16;
/** More months than these are drawn together at either end. */
const MOST = 12;
const KINDS = ['due', 'held', 'later'] as const;

/** Items by the month in which their clock ends: due, held, or later. */
export function MonthBars({ months, now }: { readonly months: readonly MonthCount[]; readonly now: string }) {
  const [asTable, setAsTable] = useState(false);
  const shown = around(months, now);
  const x = scaleBand(
    shown.map((m) => m.month),
    [0, WIDTH],
  ).padding(0.12);
  const y = scaleLinear([0, max(shown, totalOf) ?? 1], [HEIGHT - BOTTOM, 4]);
  return (
    <figure>
      <ChartHead
        label="When do their clocks end?"
        unit="items a month"
        drawn="a chart"
        asTable={asTable}
        onTable={setAsTable}
      />
      {asTable ? (
        <FigureTable
          columns={['Month', ...KINDS.map((figure) => ({ figure }))]}
          rows={months.map((m) => ({
            key: m.month,
            cells: [longMonth(m.month), ...KINDS.map((k) => numberWords(m[k]))],
          }))}
        />
      ) : (
        <>
          <svg
            viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
            role="img"
            aria-label={shown.map((m) => `${m.words}: ${numberWords(totalOf(m))}`).join(', ')}
            className={css['months']}
          >
            {shown.map((m) => {
              let from = 0;
              return (
                <g key={m.month}>
                  {KINDS.map((k) => {
                    const [low, high] = [from, (from += m[k])];
                    return m[k] === 0 ? null : (
                      <rect
                        key={k}
                        data-is={k}
                        x={x(m.month)}
                        width={x.bandwidth()}
                        y={y(high)}
                        height={Math.max(1, y(low) - y(high))}
                      >
                        <title>{`${m.words}: ${numberWords(m[k])} ${k}`}</title>
                      </rect>
                    );
                  })}
                  <text x={(x(m.month) ?? 0) + x.bandwidth() / 2} y={HEIGHT - 4} textAnchor="middle">
                    {m.words}
                  </text>
                </g>
              );
            })}
            <line x1={0} x2={WIDTH} y1={HEIGHT - BOTTOM} y2={HEIGHT - BOTTOM} />
          </svg>
          <p className={css['key']}>
            {KINDS.map((k) => (
              <span key={k}>
                <i data-is={k} aria-hidden />
                {k}
              </span>
            ))}
          </p>
        </>
      )}
    </figure>
  );
}

type Shown = MonthCount & { readonly words: string };

function totalOf(m: MonthCount): number {
  return m.due + m.held + m.later;
}

/** A year around a month; what lies farther is one bar at each end. */
function around(months: readonly MonthCount[], now: string): readonly Shown[] {
  if (months.length <= MOST) return months.map((m) => ({ ...m, words: shortMonth(m.month) }));
  const at = months.findIndex((m) => m.month >= now);
  const middle = at < 0 ? months.length : at;
  const from = Math.max(0, Math.min(middle - 6, months.length - (MOST - 2)));
  const inside = months.slice(from, from + MOST - 2);
  const outside = (of: readonly MonthCount[], words: string): readonly Shown[] => {
    if (of.length === 0) return [];
    const sum = (k: (typeof KINDS)[number]) => of.reduce((n, m) => n + m[k], 0);
    return [{ month: words, words, due: sum('due'), held: sum('held'), later: sum('later') }];
  };
  return [
    ...outside(months.slice(0, from), '…'),
    ...inside.map((m) => ({ ...m, words: shortMonth(m.month) })),
    ...outside(months.slice(from + MOST - 2), ' …'),
  ];
}

function shortMonth(month: string): string {
  const at = new Date(`${month}-15T12:00:00Z`);
  return new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' }).format(at).slice(0, 3);
}

function longMonth(month: string): string {
  const at = new Date(`${month}-15T12:00:00Z`);
  return new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(at);
}
