import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { siteSoundings } from '../../../../server/websites/sites/soundings.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend({ days: z.coerce.number().int().min(1).max(400).default(30) }),
  object: siteObject,
  run: ({ ctx, input }) => siteSoundings(ctx, input.host, input.days),
});
