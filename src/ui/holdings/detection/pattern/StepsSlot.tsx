import type { Option } from '../../../parts/ChoiceEditor.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { StepFigure } from '../detectors/StepFigure.tsx';

export function StepsSlot({
  steps,
  fixed,
  set,
}: {
  readonly steps: number;
  readonly fixed: boolean;
  readonly set: (steps: number) => void;
}) {
  if (fixed) return <StepFigure steps={steps} />;
  return (
    <Slot
      label="What it does to the odds"
      words={stepsWords(steps)}
      edit={{
        kind: 'choice',
        value: String(steps),
        options: withValue(
          [6, 4, 3, 2, 1, -1, -2, -3, -4, -6, -8].map((s) => ({ value: String(s), words: stepsWords(s) })),
          String(steps),
        ),
        set: (v) => set(Number(v)),
      }}
    />
  );
}

function stepsWords(steps: number): string {
  const factor = Math.round(2 ** Math.abs(steps) * 10) / 10;
  return `odds ${steps >= 0 ? '×' : '÷'} ${factor}`;
}

/** The options, and the value among them. */
export function withValue(options: readonly Option[], value: string): readonly Option[] {
  if (options.some((o) => o.value === value)) return options;
  return [...options, { value, words: `as it is (${value} steps)` }];
}
