import type { MeasureState as State } from '../../../core/obligations/readiness/readiness.ts';
import css from '../obligations.module.css';

/** Where a measure stands, in a word. */
export function MeasureState({ state }: { readonly state: State }) {
  return (
    <span className={css['state']} data-state={state}>
      {state}
    </span>
  );
}
