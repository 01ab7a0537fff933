import { z } from 'zod';

/** What is typed: spaces and dashes are how people copy it. */
export const TypedCode = z
  .string()
  .max(40)
  .transform((text) => text.replace(/[\s-]/g, '').toUpperCase())
  .refine((text) => /^(\d{6}|[A-Z2-7]{16})$/.test(text), {
    error: 'Type the six digits that the application shows, or one of your recovery codes.',
  });

/** Of recovery codes, which have more signs. */
export function isOneTimeCode(typed: string): boolean {
  return /^\d{6}$/.test(typed);
}

/** A recovery code as it is read: in groups of four. */
export function recoveryWords(code: string): string {
  return code.match(/.{1,4}/g)?.join('-') ?? code;
}
