import type { ReactNode } from 'react';
import css from './Explanation.module.css';

export interface Ground {
  /** ◆ speaks against, ✓ speaks for, ○ waits. */
  readonly mark: '✓' | '◆' | '○' | '·';
  readonly words: string;
  readonly figure?: string | undefined;
}

/** Why a verdict came out as it did: opened from the verdict itself. */
export function Explanation({
  title,
  grounds,
  children,
}: {
  readonly title: string;
  readonly grounds: readonly Ground[];
  readonly children?: ReactNode;
}) {
  return (
    <details className={css['explanation']}>
      <summary>{title}</summary>
      <GroundList grounds={grounds} />
      {children}
    </details>
  );
}

export function GroundList({ grounds }: { readonly grounds: readonly Ground[] }) {
  return (
    <ul className={css['grounds']}>
      {grounds.map((g) => (
        <li key={g.words} data-mark={g.mark}>
          <span className={css['mark']}>{g.mark}</span>
          <span>{g.words}</span>
          {g.figure && <span className={css['figure']}>{g.figure}</span>}
        </li>
      ))}
    </ul>
  );
}
