import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';
import { shownTrackers } from '../../../../server/websites/trackers/inventory.ts';

/** What the second layer of the notice tells, for its preview. */
export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend({ language: z.string().max(20) }),
  object: siteObject,
  run: async ({ ctx, input }) =>
    shownTrackers(ctx.store, (await findSite(ctx.store, input.host)).id, input.language),
});
