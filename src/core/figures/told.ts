import type { Comparison, Period } from './comparison.ts';
import { toldValue, type FigureValue, type FigureWords, type Part } from './figure.ts';

const number = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 1 });
type Told = Pick<FigureWords, 'unit' | 'asShare'>;

function percent(share: number, signed = false): string {
  const points = share * 100;
  // A tenth of a point says something of small shares and small changes alone.
  const digits = signed || (points > 0 && points < 10) || (points > 90 && points < 100) ? 1 : 0;
  return new Intl.NumberFormat('en-GB', { maximumFractionDigits: digits }).format(points);
}

/** `96%`, `2,317`, `–` for nothing. */
export function valueWords(figure: Told, value: number | null): string {
  if (value === null) return '–';
  return figure.unit === '%' || figure.asShare ? `${percent(value)}%` : number.format(value);
}

/** What is told of a figure, and what it is out of where that says more. */
export function figureText(
  figure: Told,
  value: FigureValue | null,
): { readonly value: string; readonly of: string } {
  if (value === null) return { value: '–', of: 'not counted yet' };
  const told = toldValue(figure, value);
  const out = valueWords(figure, told.value);
  if (told.value === null) return { value: out, of: 'nothing to count' };
  if (value.of === undefined) return { value: out, of: '' };
  if (figure.unit === '%') return { value: out, of: `of ${number.format(value.of)}` };
  return figure.asShare
    ? { value: out, of: `${number.format(value.value ?? 0)} of ${number.format(value.of)}` }
    : { value: out, of: `of ${number.format(value.of)}` };
}

/** `+6`, `−0.4 points`, `no change`. */
export function changeText(figure: Told, change: number): string {
  if (change === 0) return 'no change';
  const isShare = figure.unit === '%' || figure.asShare === true;
  const size = isShare ? percent(Math.abs(change), true) : number.format(Math.abs(change));
  return `${change > 0 ? '+' : '−'}${size}${isShare ? ` ${size === '1' ? 'point' : 'points'}` : ''}`;
}

/** `+0.4 points on last quarter, within chance` */
export function comparisonText(figure: Told, comparison: Comparison | null, period: Period): string {
  if (!comparison) return `not known for last ${period}`;
  const sure = comparison.sure === 'counted' || comparison.change === 0 ? '' : `, ${comparison.sure}`;
  return `${changeText(figure, comparison.change)} on last ${period}${sure}`;
}

/** How far from what it is to be: `met`, `short`; nothing without a target. */
export function aimOf(
  figure: Told & Pick<FigureWords, 'good'>,
  value: FigureValue | null,
  target: number | null,
): 'met' | 'short' | undefined {
  const told = value && toldValue(figure, value).value;
  if (target === null || told === null || told === undefined || figure.good === 'neither') return undefined;
  return (figure.good === 'more' ? told >= target : told <= target) ? 'met' : 'short';
}

/** A part as it is read: regions by their names. */
export function partWords(part: Part, value: string): string {
  if (value === '') return `without a ${part}`;
  return part === 'region' ? regionWords(value) : value;
}

const countries = new Intl.DisplayNames('en', { type: 'region', fallback: 'code' });

/** Of a code of ISO 3166. */
function regionWords(code: string): string {
  const [country = '', within] = code.split('-');
  const name = /^[A-Z]{2}$/.test(country) ? (countries.of(country) ?? country) : country;
  return within === undefined ? name : `${name}, ${within}`;
}
