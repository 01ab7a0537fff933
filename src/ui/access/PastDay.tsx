import { dayText } from '../../core/text/day.ts';
import { setQuery } from '../desk/location.ts';
import { Button } from '../parts/Button.tsx';
import css from './access.module.css';

/** That what is shown is no longer so. */
export function PastDay({ on }: { readonly on: string | undefined }) {
  if (on === undefined) return null;
  return (
    <p className={css['past']}>
      As it was at the end of <b>{dayText(on)}</b>.
      <Button kind="quiet" onClick={() => setQuery({ on: null })}>
        Back to today
      </Button>
    </p>
  );
}
