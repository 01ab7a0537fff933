import { z } from 'zod';
import { PurposeCode } from '../notice/purpose-code.ts';

const Word = (what: string) =>
  z.string().trim().min(1, `${what} cannot be empty`).max(60, `${what}: at most 60 characters`);

const Template = z
  .string()
  .trim()
  .max(1000, 'At most 1000 characters')
  .refine((text) => {
    try {
      JSON.parse(text);
      return text.includes('"$state"');
    } catch {
      return false;
    }
  }, 'Write JSON with "$state" where the state stands, such as {"may": "$state"}');

/**
 * How a tag system is told the state: what is pushed to which queue of the page, with the names and values that the
 * system knows. In an entry `"$state"` stands for the names with their values, `"$wait"` for the milliseconds it may wait
 * for an answer, `"$region"` for where the visitor is.
 */
export const TagSystem = z.strictObject({
  name: Word('The name'),
  /** A global of the page, such as `tags` or `shop.tags`; made as an array where it is not there yet. */
  queue: z
    .string()
    .regex(/^[A-Za-z_$][\w$]{0,40}(\.[A-Za-z_$][\w$]{0,40}){0,3}$/, 'The name of a global, such as shop.tags')
    .refine(
      (q) =>
        !q.split('.').some((p) => /^(__proto__|prototype|constructor|window|document|location)$/.test(p)),
      'This global is not a queue',
    ),
  names: z.record(PurposeCode, z.array(Word('A name')).max(8, 'At most 8 names for a purpose')),
  on: Word('The value for allowed'),
  off: Word('The value for not allowed'),
  start: Template,
  change: Template,
  /** Milliseconds that tags may wait for an answer at the start. */
  waitMs: z.int().min(0, 'At least 0 ms').max(3000, 'At most 3000 ms'),
});
export type TagSystem = z.infer<typeof TagSystem>;
