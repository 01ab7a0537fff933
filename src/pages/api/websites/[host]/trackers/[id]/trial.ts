import { z } from 'zod';
import { FIXES } from '../../../../../../core/websites/trackers/fix.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { startTrial } from '../../../../../../server/websites/trackers/fix-trials.ts';
import { HostInput, siteObject } from '../../../../../../server/websites/sites/host-input.ts';

export const POST = endpoint({
  action: 'websites.sweep',
  input: HostInput.extend({
    id: z.coerce.number().int().positive(),
    fix: z.enum(FIXES),
    purpose: z.string().max(31),
  }),
  object: siteObject,
  run: ({ ctx, account, input }) =>
    startTrial(ctx, account.id, input.host, input.id, input.fix, input.purpose),
});
