import { confidenceWords, type Step } from '../../../../core/holdings/detection/detector/confidence.ts';
import { StepFigure } from './StepFigure.tsx';
import css from '../../holdings.module.css';

/** What a confidence is made of. */
export function StepList({
  steps,
  confidence,
}: {
  readonly steps: readonly Step[];
  readonly confidence: number;
}) {
  return (
    <ul className={css['steps']}>
      {steps.map((s, i) => (
        <li key={i}>
          <span>{s.words}</span>
          {s.steps !== 0 && <StepFigure steps={s.steps} />}
        </li>
      ))}
      <li>
        <b>together {confidenceWords(confidence, 1)}</b>
      </li>
    </ul>
  );
}
