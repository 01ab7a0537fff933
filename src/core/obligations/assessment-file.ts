import { z } from 'zod';
import { Framework, Measure } from './framework/framework.ts';
import { MEASURE_STATES, type Assessed, type Work } from './readiness/readiness.ts';
import { USUAL_WEIGHTS, Weights } from './readiness/weights.ts';

const Reason = z.string().trim().min(1, 'Say why it does not apply.').max(400);

/** An assessment as the command line takes it (docs/frameworks.md). */
export const AssessmentFile = z.strictObject({
  format: z.literal('yare-assessment-1'),
  /** One that ships, by its id; or all of one. */
  framework: z.union([z.string(), Framework]),
  /** Measures besides those that ship; one of the same id takes its place. */
  measures: z.array(Measure).default([]),
  weights: Weights.default(USUAL_WEIGHTS),
  /** Controls that do not apply, with why. */
  notApplicable: z.array(z.strictObject({ control: z.string(), reason: Reason })).default([]),
  work: z
    .array(
      z
        .strictObject({
          measure: z.string(),
          state: z.enum(MEASURE_STATES).default('planned'),
          test: z.enum(['passed', 'failed']).nullable().default(null),
          evidenceUntil: z.iso.date().nullable().default(null),
          reason: z.string().trim().max(400).default(''),
        })
        .refine((w) => w.state !== 'not applicable' || w.reason !== '', {
          error: 'Say why it does not apply.',
          path: ['reason'],
        }),
    )
    .default([]),
});
export type AssessmentFile = z.infer<typeof AssessmentFile>;

/** What a file names and the framework does not have: the field, and what. */
export function assessmentFaults(
  file: AssessmentFile,
  framework: Framework,
): readonly { readonly field: string; readonly message: string }[] {
  const controls = new Set(framework.controls.map((c) => c.id));
  const measures = new Set(framework.controls.flatMap((c) => c.measures));
  const seen = new Set<string>();
  return [
    ...file.notApplicable.flatMap(({ control }, i) =>
      controls.has(control)
        ? []
        : [{ field: `notApplicable.${i}.control`, message: `${framework.name} has no control ${control}.` }],
    ),
    ...file.work.flatMap(({ measure }, i) => {
      const again = seen.has(measure);
      seen.add(measure);
      if (again) return [{ field: `work.${i}.measure`, message: `${measure} stands there twice.` }];
      return measures.has(measure)
        ? []
        : [{ field: `work.${i}.measure`, message: `No control of ${framework.name} names ${measure}.` }];
    }),
  ];
}

export function assessedOf(file: AssessmentFile, { controls }: Framework): Assessed {
  return {
    controls,
    notApplicable: new Set(file.notApplicable.map((n) => n.control)),
    work: new Map(
      file.work.map(({ measure, state, test, evidenceUntil }): [string, Work] => [
        measure,
        { state, test, evidenceUntil },
      ]),
    ),
  };
}
