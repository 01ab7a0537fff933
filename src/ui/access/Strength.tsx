import type { Strength as Is } from '../../core/access/reach/strength.ts';
import css from './access.module.css';

/** What somebody can do, the stronger the firmer its line. */
export function Strength({ is }: { readonly is: Is | null }) {
  if (is === null) return <span className={css['dim']}>none</span>;
  return (
    <span className={css['strength']} data-strong={is === 'change' || is === 'give' || undefined}>
      {is}
    </span>
  );
}
