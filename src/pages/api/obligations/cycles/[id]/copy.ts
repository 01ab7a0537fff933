import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { copyCycle } from '../../../../../server/obligations/assessments/copy-cycle.ts';

/** Begins the next cycle with all assessments of this one, and what still holds. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({
    id: z.coerce.number().int().positive().max(4_294_967_295),
    name: z.string().trim().min(1, 'Name the cycle: the part of the organisation, and the year.').max(120),
    due: z.iso.date().nullable(),
  }),
  run: ({ ctx, account, input }) => copyCycle(ctx, account.id, input.id, input),
});
