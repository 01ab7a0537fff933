import type { ReactNode } from 'react';
import css from './CheckList.module.css';

/** Lines of a sounding, one for each thing that was looked at; `small` in a line tells more of it below. */
export function CheckList({ label, children }: { readonly label?: string; readonly children: ReactNode }) {
  return (
    <ul className={css['checks']} aria-label={label}>
      {children}
    </ul>
  );
}
