import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { openTracker } from '../../../../../../server/websites/trackers/trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend({ id: z.coerce.number().int().positive() }),
  object: siteObject,
  run: ({ ctx, input }) => openTracker(ctx.store, input.host, input.id),
});
