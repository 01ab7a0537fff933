import type { Measure } from '../../../core/obligations/framework/framework.ts';
import { numberWords } from '../../desk/words.ts';
import { TimeChart } from '../../parts/TimeChart.tsx';
import { useTestedFigures } from '../use-obligations.ts';
import css from '../obligations.module.css';

/** What the program counts for a measure: the figure, up to or from where it is right, its rows, and how it went. */
export function LiveTestSection({ test }: { readonly test: NonNullable<Measure['test']> }) {
  const figures = useTestedFigures();
  const figure = figures.data?.find((f) => f.id === test.figure);
  if (!figure) return null;
  const points = figure.days.flatMap((d) => {
    const value = test.share ? shareOf(d) : d.value;
    return value === null ? [] : [{ at: d.day, value }];
  });
  return (
    <section>
      <h2 className={css['heading']}>How the program tests it</h2>
      <p>
        <a href={figure.link}>{figure.name}</a>, right {thresholdWords(test)}.
      </p>
      <p className={css['note']}>{figure.definition}</p>
      {points.length > 1 && (
        <TimeChart
          label={figure.name}
          unit={test.share ? '%' : figure.unit}
          series={[{ name: figure.name, points }]}
        />
      )}
    </section>
  );
}

/** In percent, to a tenth. */
function shareOf(d: { readonly value: number | null; readonly of?: number }): number | null {
  return d.value === null || !d.of ? null : Math.round((1000 * d.value) / d.of) / 10;
}

/** “up to 0”, “from 90% of all”. */
export function thresholdWords({ atMost, atLeast, share }: NonNullable<Measure['test']>): string {
  const bound = atMost ?? atLeast ?? 0;
  const value = share ? `${numberWords(Math.round(bound * 100))}% of all` : numberWords(bound);
  return atMost === undefined ? `from ${value}` : `up to ${value}`;
}
