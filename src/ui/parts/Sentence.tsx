import type { ReactNode } from 'react';
import css from './Sentence.module.css';

/** A rule as prose: a label at the margin, words and slots in the line. */
export function Sentence({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <div className={css['sentence']}>
      <span className={css['label']}>{label}</span>
      <div className={css['words']}>{children}</div>
    </div>
  );
}
