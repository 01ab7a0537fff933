import { z } from 'zod';
import type { Control } from '../framework/framework.ts';

const Weight = z.int().min(0).max(10);

/** What a control weighs by its duty and its kind; its risk counts as it is. */
export const Weights = z.strictObject({
  duty: z.strictObject({ required: Weight, 'by choice': Weight }),
  kind: z.strictObject({ prevents: Weight, detects: Weight, corrects: Weight }),
});
export type Weights = z.infer<typeof Weights>;

export const USUAL_WEIGHTS: Weights = {
  duty: { required: 3, 'by choice': 1 },
  kind: { prevents: 3, detects: 2, corrects: 2 },
};

/** Duty × kind × risk: a whole number up to 500. */
export function pointsOf(
  { duty, kind, risk }: Pick<Control, 'duty' | 'kind' | 'risk'>,
  weights: Weights,
): number {
  return weights.duty[duty] * weights.kind[kind] * risk;
}
