import { z } from 'zod';

export const DEVICES = ['phone', 'tablet', 'desktop'] as const;

/** From where a visitor answers: nothing that would tell one visitor from another. */
export const FromWhere = z.object({
  device: z.enum(['', ...DEVICES]).default(''),
  /** The first part of the page's path. */
  page: z
    .string()
    .max(40, 'at most 40 characters')
    .regex(/^[\w.~%-]*$/, 'the first part of a path')
    .default(''),
});
export type FromWhere = z.infer<typeof FromWhere>;

/** What the script tells once it shows the notice by itself. */
export const ShownSent = z.strictObject({
  version: z.int().positive(),
  language: z
    .string()
    .max(20)
    .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/),
  ...FromWhere.shape,
});
export type ShownSent = z.infer<typeof ShownSent>;
