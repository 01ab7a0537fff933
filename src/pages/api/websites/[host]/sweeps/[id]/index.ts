import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { sweepDetail } from '../../../../../../server/websites/sweeps/sweep-detail.ts';
import { SweepInput } from '../../../../../../server/websites/sweeps/sweep-input.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: SweepInput.extend({ against: z.coerce.number().int().positive().optional() }),
  object: siteObject,
  run: ({ ctx, input }) => sweepDetail(ctx.store, input.host, input.id, input.against),
});
