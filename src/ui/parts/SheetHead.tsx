import type { ReactNode } from 'react';
import css from './SheetHead.module.css';

/** The name of what the sheet shows, what is known of it in a line, and what can be done. */
export function SheetHead({
  title,
  detail,
  actions,
}: {
  readonly title: ReactNode;
  readonly detail: ReactNode;
  readonly actions?: ReactNode;
}) {
  return (
    <header className={css['head']}>
      <div className={css['line']}>
        <h1>{title}</h1>
        <div className={css['actions']}>{actions}</div>
      </div>
      <p className={css['detail']}>{detail}</p>
    </header>
  );
}
