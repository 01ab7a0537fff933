import { z } from 'zod';
import { STRENGTHS } from '../../core/access/reach/strength.ts';
import { WAY_KINDS } from '../../core/access/views/people-at.ts';
import { PEOPLE_KINDS } from './index/person-answers.ts';
import { PageSize } from '../store/page.ts';

/** A place, a person or a group, as addresses call it. */
export const Key = z.string().regex(/^[\w-]{12}$/, 'This is no place, person or group.');
/** A past day; today without it. */
export const On = z.iso.date().optional();
export const RowId = z.coerce.number().int().positive();
/** Where a list goes on that counts from its beginning. */
export const After = z.coerce.number().int().min(0).max(1e9).default(0);

export const WhoInput = z.object({
  key: Key,
  on: On,
  text: z.string().max(100).default(''),
  strength: z.enum(STRENGTHS).optional(),
  way: z.enum(WAY_KINDS).optional(),
  via: z.string().max(420).optional(),
  after: After,
  size: PageSize,
});
export type WhoInput = z.infer<typeof WhoInput>;

export const PeopleInput = {
  text: z.string().max(100).default(''),
  kind: z.enum(PEOPLE_KINDS).optional(),
};

export const ReachedInput = {
  key: Key,
  on: On,
  text: z.string().max(100).default(''),
  strength: z.enum(STRENGTHS).optional(),
};
