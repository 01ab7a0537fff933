import type { ReactNode } from 'react';
import css from './SoundingsSection.module.css';

/** One named part of the soundings. */
export function SoundingsSection({
  title,
  children,
}: {
  readonly title: string;
  readonly children: ReactNode;
}) {
  return (
    <section className={css['section']}>
      <h2>{title}</h2>
      {children}
    </section>
  );
}
