import { z } from 'zod';

/** What a purpose is called in data. */
export const PurposeCode = z
  .string()
  .regex(/^[a-z][a-z0-9-]{0,30}$/, 'lower-case letters, digits and hyphens');
export type PurposeCode = z.infer<typeof PurposeCode>;
