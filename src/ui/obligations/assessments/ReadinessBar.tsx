import type { Points } from '../../../core/obligations/readiness/readiness.ts';
import { pointsWords } from '../obligation-words.ts';
import css from '../obligations.module.css';

/** Points given of those that apply, with how much of the rest fails its test. */
export function ReadinessBar({
  name,
  points,
  failed,
}: {
  readonly name: string;
  readonly points: Points;
  /** Measures in it whose test fails. */
  readonly failed: number;
}) {
  const share = points.applicable === 0 ? 0 : (100 * points.given) / points.applicable;
  return (
    <>
      <span className={css['family']}>{name}</span>
      <span className={css['track']} aria-hidden>
        <span className={css['fill']} style={{ width: `${share}%` }} />
      </span>
      <span className={css['of']}>
        {pointsWords(points.given)} of {pointsWords(points.applicable)}
      </span>
      <span className={css['mark']}>{failed > 0 ? `◆ ${failed}` : ''}</span>
    </>
  );
}
