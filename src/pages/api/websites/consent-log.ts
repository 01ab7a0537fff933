import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { readLogMonths, sayLogMonths } from '../../../server/websites/consents/consent-erasure.ts';

const Months = z.int().min(1, 'At least 1 month').max(240, 'At most 240 months').nullable();

export const GET = endpoint({
  action: 'consent.read',
  input: z.object({}),
  run: async ({ ctx }) => ({ months: await readLogMonths(ctx.store) }),
});

export const PUT = endpoint({
  action: 'websites.put-in-force',
  /** `null`: for ever. `saw`: what the editor saw. */
  input: z.object({ months: Months, saw: Months }),
  object: whole('consent', ['site']),
  run: ({ ctx, account, input }) => sayLogMonths(ctx, account.id, input.months, input.saw),
});
