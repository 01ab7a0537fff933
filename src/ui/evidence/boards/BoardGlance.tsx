import { comparisonText, figureText } from '../../../core/figures/told.ts';
import { toldValue } from '../../../core/figures/figure.ts';
import type { Period } from '../../../core/figures/comparison.ts';
import type { ShownTile } from '../../../server/desk/shown-board.ts';
import { Sparkline } from '../../parts/Sparkline.tsx';
import { figureLink } from './BoardSheet.tsx';
import glance from './glance.module.css';

/** A board beside something else: a line a figure. */
export function BoardGlance({
  tiles,
  compare,
}: {
  readonly tiles: readonly ShownTile[];
  readonly compare: Period;
}) {
  return (
    <ul className={glance['list']}>
      {tiles.map((shown) =>
        shown.figure ? <GlanceRow key={shown.tile.id} shown={shown} compare={compare} /> : null,
      )}
    </ul>
  );
}

function GlanceRow({ shown, compare }: { readonly shown: ShownTile; readonly compare: Period }) {
  const { figure, now, comparison, days } = shown;
  if (!figure) return null;
  const { value, of } = figureText(figure, now);
  const isReal = comparison !== null && comparison.way !== 'none' && comparison.sure !== 'within chance';
  const values = days.flatMap((d) => toldValue(figure, d).value ?? []);
  return (
    <li>
      <a href={figureLink(figure.id, now?.day)}>
        <span className={glance['name']}>{figure.name}</span>
        <span>
          <b>{value}</b> {figure.asShare || figure.unit === '%' ? '' : of}
        </span>
        <span className={glance['change']} data-worse={(isReal && comparison.way === 'worse') || undefined}>
          {isReal && (comparison.way === 'worse' ? '◆ ' : '✓ ')}
          {comparisonText(figure, comparison, compare)}
        </span>
      </a>
      <Sparkline values={values} label={`${figure.name} in ${shown.tile.days} days`} />
    </li>
  );
}
