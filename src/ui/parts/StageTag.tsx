import type { RuleState } from '../../core/rules/rule.ts';
import css from './StageTag.module.css';

/** The state of a rule in a word, with the colour of land or water behind it. */
export function StageTag({ state }: { readonly state: RuleState }) {
  return (
    <span className={css['tag']} data-state={state}>
      {state}
    </span>
  );
}
