import { z } from 'zod';
import { JsonColumn } from '../store/columns.ts';

const Standing = z.object({ version: z.number(), since: z.string() });

/** A rule's stage as it is stored. */
export const StageColumn = JsonColumn(
  z.discriminatedUnion('state', [
    z.object({ state: z.literal('draft') }),
    z.object({
      state: z.literal('rehearsing'),
      version: z.number(),
      since: z.string(),
      over: Standing.nullable(),
    }),
    z.object({ state: z.literal('in force'), version: z.number(), since: z.string() }),
    z.object({ state: z.literal('paused'), version: z.number(), since: z.string() }),
    z.object({ state: z.literal('retired'), version: z.number().nullable(), since: z.string() }),
  ]),
);
