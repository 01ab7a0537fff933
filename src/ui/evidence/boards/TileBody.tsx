import { aimOf, comparisonText, figureText, partWords, valueWords } from '../../../core/figures/told.ts';
import type { Period } from '../../../core/figures/comparison.ts';
import { toldValue } from '../../../core/figures/figure.ts';
import type { ShownTile } from '../../../server/desk/shown-board.ts';
import { Sparkline } from '../../parts/Sparkline.tsx';
import { TimeChart } from '../../parts/TimeChart.tsx';
import css from './boards.module.css';

const MOST_PARTS = 8;

/** What a tile says: the number, what became of it, and how. */
export function TileBody({
  shown,
  compare,
  onDay,
}: {
  readonly shown: ShownTile;
  readonly compare: Period;
  /** Opens the rows of a day. */
  readonly onDay?: (day: string) => void;
}) {
  const { figure, tile, now, hidden } = shown;
  if (!figure)
    return (
      <p className={css['hidden']}>
        {hidden === 'gone' ? 'This figure is no more.' : 'Your roles do not include what this figure counts.'}
      </p>
    );
  const { value, of } = figureText(figure, now);
  const points = told(shown);
  return (
    <>
      <div className={css['answer']}>
        <p>
          <b className={css['value']}>{value}</b> <span className={css['of']}>{of}</span>
          <Change shown={shown} compare={compare} />
          <Aim shown={shown} />
        </p>
        {tile.as === 'number' && points.length > 1 && (
          <Sparkline
            values={points.map((p) => p.value)}
            label={`${figure.name}: ${valueWords(figure, points[0]?.value ?? null)} on ${points[0]?.at ?? ''}, ${valueWords(figure, points.at(-1)?.value ?? null)} now`}
          />
        )}
      </div>
      {tile.as === 'table' && <PartTable shown={shown} compare={compare} />}
      {tile.as === 'bars' && (shown.parts ? <PartBars shown={shown} /> : <TimeBars shown={shown} />)}
      {tile.as === 'line' && (
        <TimeChart
          label={`How it went in ${tile.days} days`}
          unit={figure.unit === '%' || figure.asShare ? '%' : `${figure.unit}s`}
          series={[{ name: '', points }]}
          words={(n) => valueWords(figure, n)}
          {...(onDay && points.length <= 40 ? { onOpen: (_, p) => onDay(p.at) } : {})}
        />
      )}
    </>
  );
}

function told({ figure, days }: ShownTile) {
  if (!figure) return [];
  return days.flatMap((d) => {
    const { value, isShare } = toldValue(figure, d);
    if (value === null) return [];
    const sure = isShare && d.low !== undefined && d.high !== undefined ? { low: d.low, high: d.high } : {};
    return [{ at: d.day, value, ...sure }];
  });
}

function Change({ shown, compare }: { readonly shown: ShownTile; readonly compare: Period }) {
  const { figure, comparison } = shown;
  if (!figure) return null;
  const isReal = comparison !== null && comparison.way !== 'none' && comparison.sure !== 'within chance';
  return (
    <span className={css['change']} data-way={isReal ? comparison.way : undefined}>
      {isReal && (comparison.way === 'worse' ? '◆ ' : '✓ ')}
      {comparisonText(figure, comparison, compare)}
    </span>
  );
}

function Aim({ shown: { figure, now } }: { readonly shown: ShownTile }) {
  if (!figure || figure.target === null) return null;
  const aim = aimOf(figure, now, figure.target);
  return (
    <span className={css['change']} data-way={aim === 'short' ? 'worse' : undefined}>
      {aim === 'met' ? '✓ ' : aim === 'short' ? '◆ ' : ''}
      {figure.good === 'more' ? 'at least' : 'at most'} {valueWords(figure, figure.target)} is wanted
    </span>
  );
}

function PartBars({ shown: { parts, figure, tile } }: { readonly shown: ShownTile }) {
  const { by } = tile;
  if (!parts || !figure || by === null) return null;
  if (parts.length === 0) return <p className={css['of']}>There is nothing to tell apart on this day.</p>;
  const most = Math.max(...parts.map((p) => p.value ?? 0), Number.MIN_VALUE);
  return (
    <ul className={css['parts']} aria-label={`${figure.name} by ${by}`}>
      {parts.slice(0, MOST_PARTS).map((p) => (
        <li key={p.part}>
          <span>{partWords(by, p.part)}</span>
          <i>
            <span style={{ width: `${Math.max(1, ((p.value ?? 0) / most) * 100)}%` }} />
          </i>
          <b>{valueWords(figure, p.value)}</b>
        </li>
      ))}
      {parts.length > MOST_PARTS && <li>{parts.length - MOST_PARTS} more in its rows</li>}
    </ul>
  );
}

/** The last value of each month. */
function TimeBars({ shown }: { readonly shown: ShownTile }) {
  const { figure } = shown;
  if (!figure) return null;
  const months = new Map(told(shown).map((p) => [p.at.slice(0, 7), p]));
  const all = [...months.values()];
  const most = Math.max(...all.map((p) => p.value), Number.MIN_VALUE);
  return (
    <ul className={css['parts']} aria-label={`${figure.name} at the end of each month`}>
      {all.slice(-12).map((p) => (
        <li key={p.at}>
          <span>{monthWords(p.at)}</span>
          <i>
            <span style={{ width: `${Math.max(1, (p.value / most) * 100)}%` }} />
          </i>
          <b>{valueWords(figure, p.value)}</b>
        </li>
      ))}
    </ul>
  );
}

function monthWords(day: string): string {
  return new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' }).format(
    new Date(day),
  );
}

function PartTable({ shown, compare }: { readonly shown: ShownTile; readonly compare: Period }) {
  const { parts, figure, tile } = shown;
  if (!figure) return null;
  const { by } = tile;
  if (!parts || by === null) return <DayTable shown={shown} />;
  return (
    <table className={css['table']}>
      <thead>
        <tr>
          <th scope="col">{by}</th>
          <th scope="col">Now</th>
          <th scope="col">Last {compare}</th>
        </tr>
      </thead>
      <tbody>
        {parts.slice(0, MOST_PARTS).map((p) => (
          <tr key={p.part}>
            <th scope="row">{partWords(by, p.part)}</th>
            <td>{valueWords(figure, p.value)}</td>
            <td>{valueWords(figure, p.before)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function DayTable({ shown }: { readonly shown: ShownTile }) {
  const { figure } = shown;
  if (!figure) return null;
  return (
    <table className={css['table']}>
      <thead>
        <tr>
          <th scope="col">At the end of</th>
          <th scope="col">{figure.unit === '%' || figure.asShare ? '%' : `${figure.unit}s`}</th>
        </tr>
      </thead>
      <tbody>
        {[...new Map(told(shown).map((p) => [p.at.slice(0, 7), p])).values()].slice(-12).map((p) => (
          <tr key={p.at}>
            <th scope="row">{monthWords(p.at)}</th>
            <td>{valueWords(figure, p.value)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
