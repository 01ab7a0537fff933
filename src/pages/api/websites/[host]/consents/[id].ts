import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { openConsent } from '../../../../../server/websites/consents/consent-record.ts';
import { findSite } from '../../../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend({ id: z.string().max(36) }),
  object: siteObject,
  run: async ({ ctx, input }) => openConsent(ctx.store, (await findSite(ctx.store, input.host)).id, input.id),
});
