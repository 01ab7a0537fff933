import { z } from 'zod';
import { Lens } from '../../lens/lens.ts';

/** A lens that was kept under a name. */
export const KeptLens = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  lens: Lens,
});
export type KeptLens = z.infer<typeof KeptLens>;
