import { z } from 'zod';
import { PurposeCode } from '../notice/purpose-code.ts';

/** What one switch of the notice, on alone, was seen to let run. */
export const SwitchRun = z.object({
  words: z.string().max(120),
  /** What it is for; `null` where nothing tells. */
  purpose: PurposeCode.nullable(),
  /** By its words, by what runs with it, or by who said so. */
  by: z.enum(['words', 'trial', 'person']),
  /** Pages that were walked with it. */
  pages: z.int().nonnegative(),
});
export type SwitchRun = z.infer<typeof SwitchRun>;

/** A switch of a notice that is to be tried. */
export type SwitchToTry = Pick<SwitchRun, 'words' | 'purpose' | 'by'>;

/** The switches with which a tracker ran, each on alone, of those that were tried. */
export interface RanWith {
  readonly with: readonly SwitchRun[];
  readonly tried: number;
}
