import css from '../../holdings.module.css';

/** What one element does to the odds, as a factor: two steps up are four times. */
export function StepFigure({ steps }: { readonly steps: number }) {
  const factor = 2 ** Math.abs(steps);
  const words = factor >= 10 ? String(Math.round(factor)) : factor.toFixed(1).replace(/\.0$/, '');
  return (
    <span className={css['step']} title="What it does to the odds">
      {steps >= 0 ? `odds × ${words}` : `odds ÷ ${words}`}
    </span>
  );
}
