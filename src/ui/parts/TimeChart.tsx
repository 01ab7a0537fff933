import { extent } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import { area, line } from 'd3-shape';
import { useState } from 'react';
import { dateWords, numberWords } from '../desk/words.ts';
import { ChartHead } from './ChartHead.tsx';
import css from './TimeChart.module.css';

export interface TimePoint {
  /** ISO 8601. */
  readonly at: string;
  readonly value: number;
  /** As sure as it is: between these, where that is known. */
  readonly low?: number;
  readonly high?: number;
}

export interface TimeSeries {
  readonly name: string;
  readonly points: readonly TimePoint[];
}

interface TimeChartProps {
  /** The question it answers. */
  readonly label: string;
  readonly unit: string;
  readonly series: readonly TimeSeries[];
  readonly words?: (value: number) => string;
  /** Opens the rows behind a point. */
  readonly onOpen?: (series: string, point: TimePoint) => void;
}

const [WIDTH, HEIGHT] = [560, 180];
/** More points than these would hide the line between them. */
const MANY = 30;
const MARGIN = { top: 10, right: 88, bottom: 22, left: 44 };
/** Told apart by dash as well as by shade. */
const DASHES = ['', '6 3', '2 3', '10 3 2 3'];

/** Values over time, with how sure they are; can be read as a table. */
export function TimeChart({ label, unit, series, words = numberWords, onOpen }: TimeChartProps) {
  const [asTable, setAsTable] = useState(false);
  const points = series.flatMap((s) => s.points);
  const [first, last] = extent(points, (p) => new Date(p.at));
  return (
    <figure className={css['chart']}>
      <ChartHead label={label} unit={unit} drawn="a chart" asTable={asTable} onTable={setAsTable} />
      {points.length === 0 || !first || !last ? (
        <p className={css['none']}>Nothing was kept yet. A value is kept each day.</p>
      ) : asTable ? (
        <TableOf series={series} unit={unit} words={words} />
      ) : (
        <Drawing {...{ label, series, words, onOpen, first, last }} />
      )}
    </figure>
  );
}

function Drawing({
  label,
  series,
  words,
  onOpen,
  first,
  last,
}: Pick<TimeChartProps, 'label' | 'series' | 'onOpen'> & {
  readonly words: (value: number) => string;
  readonly first: Date;
  readonly last: Date;
}) {
  const points = series.flatMap((s) => s.points);
  const x = scaleUtc()
    .domain(first < last ? [first, last] : [new Date(first.getTime() - 86_400_000), last])
    .range([MARGIN.left, WIDTH - MARGIN.right]);
  const most = Math.max(...points.map((p) => p.high ?? p.value));
  const least = Math.min(0, ...points.map((p) => p.low ?? p.value));
  const y = scaleLinear()
    .domain([least, most > least ? most : least + 1])
    .nice(4)
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const path = line<TimePoint>(
    (p) => x(new Date(p.at)),
    (p) => y(p.value),
  );
  const band = area<TimePoint>(
    (p) => x(new Date(p.at)),
    (p) => y(p.low ?? p.value),
    (p) => y(p.high ?? p.value),
  );
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label={label} className={css['svg']}>
      {y.ticks(4).map((t) => (
        <g key={t} transform={`translate(0 ${y(t)})`}>
          <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} className={css['grid']} />
          <text x={MARGIN.left - 6} dy="0.32em" textAnchor="end">
            {words(t)}
          </text>
        </g>
      ))}
      {x.ticks(5).map((t) => (
        <text key={t.getTime()} x={x(t)} y={HEIGHT - 6} textAnchor="middle">
          {x.tickFormat(5, '%-d %b')(t)}
        </text>
      ))}
      {series.map(({ name, points: mine }, i) => (
        <g key={name} className={css['series']} data-shade={i % 2}>
          {mine.some((p) => p.low !== undefined) && (
            <path d={band([...mine]) ?? ''} className={css['band']} />
          )}
          <path
            d={path([...mine]) ?? ''}
            className={css['line']}
            strokeDasharray={DASHES[i % DASHES.length]}
          />
          {mine.map((p) => (
            <circle
              key={p.at}
              cx={x(new Date(p.at))}
              cy={y(p.value)}
              r={onOpen ? (mine.length > MANY ? 3 : 5) : 2}
              className={css['point']}
              {...(onOpen
                ? {
                    role: 'button',
                    tabIndex: 0,
                    'aria-label': pointWords(name, p, words),
                    onClick: () => onOpen(name, p),
                    onKeyDown: (e: React.KeyboardEvent) => e.key === 'Enter' && onOpen(name, p),
                  }
                : {})}
            >
              <title>{pointWords(name, p, words)}</title>
            </circle>
          ))}
          {mine.length > 0 && (
            <text
              x={WIDTH - MARGIN.right + 8}
              y={y(mine.at(-1)?.value ?? 0)}
              dy="0.32em"
              className={css['name']}
            >
              {name}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}

function pointWords(name: string, { at, value, low, high }: TimePoint, words: (n: number) => string): string {
  const sure = low === undefined || high === undefined ? '' : `, between ${words(low)} and ${words(high)}`;
  return `${name}, ${dateWords(at)}: ${words(value)}${sure}`;
}

function TableOf({
  series,
  unit,
  words,
}: {
  readonly series: readonly TimeSeries[];
  readonly unit: string;
  readonly words: (value: number) => string;
}) {
  const days = [...new Set(series.flatMap((s) => s.points.map((p) => p.at)))].toSorted();
  return (
    <table className={css['table']}>
      <thead>
        <tr>
          <th scope="col">Day</th>
          {series.map((s) => (
            <th key={s.name} scope="col">
              {s.name}, {unit}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {days.map((day) => (
          <tr key={day}>
            <th scope="row">{dateWords(day)}</th>
            {series.map((s) => {
              const point = s.points.find((p) => p.at === day);
              return <td key={s.name}>{point ? words(point.value) : '–'}</td>;
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
