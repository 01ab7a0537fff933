import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/host-input.ts';
import { openConsent } from '../../../../../server/websites/consents.ts';

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend({ id: z.string().max(36) }),
  object: siteObject,
  run: ({ ctx, input }) => openConsent(ctx.store, input.id),
});
