import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/host-input.ts';
import { siteDetail } from '../../../../server/websites/site-detail.ts';
import { renameSite } from '../../../../server/websites/sites.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => siteDetail(ctx, input.host),
});

export const PATCH = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({
    name: z.string().trim().min(1, 'Give the site a name').max(120, 'At most 120 characters'),
  }),
  object: siteObject,
  run: ({ ctx, account, input }) => renameSite(ctx, account.id, input.host, input.name),
});
