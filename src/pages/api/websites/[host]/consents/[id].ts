import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { proveConsent } from '../../../../../server/websites/consents/consent-proof.ts';
import { findSite } from '../../../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend({ id: z.string().max(36) }),
  object: siteObject,
  run: async ({ ctx, input }) => proveConsent(ctx, await findSite(ctx.store, input.host), input.id),
});
