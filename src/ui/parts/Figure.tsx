import type { ReactNode } from 'react';
import css from './Figure.module.css';

/** One large number with what it counts; opens to its rows where there is a way. */
export function Figure({
  value,
  words,
  href,
  mark = false,
}: {
  readonly value: string;
  readonly words: string;
  readonly href?: string;
  readonly mark?: boolean;
}) {
  const inner = (
    <>
      <b data-mark={mark || undefined}>{value}</b>
      <span>{words}</span>
    </>
  );
  return href ? (
    <a className={css['figure']} href={href}>
      {inner}
    </a>
  ) : (
    <div className={css['figure']}>{inner}</div>
  );
}

/** Numbers beside each other. */
export function FigureRow({ children }: { readonly children: ReactNode }) {
  return <div className={css['row']}>{children}</div>;
}
