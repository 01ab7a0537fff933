import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { restoreDecisions } from '../../../../../server/websites/trackers/purpose-decisions.ts';

const Before = z.object({
  id: z.int().positive(),
  decided: z.string().max(31).nullable(),
  because: z.string().max(500).nullable(),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ before: z.array(Before).min(1).max(500), after: z.string().max(31).nullable() }),
  object: siteObject,
  run: ({ ctx, account, input }) => restoreDecisions(ctx, account.id, input.host, input.before, input.after),
});
