import { CONSENT_LIST } from '../../../../../core/websites/consents/consent-list.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../../server/lists/list-source.ts';
import { listConsents } from '../../../../../server/websites/consents/consents.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend(pageShape(CONSENT_LIST)),
  object: siteObject,
  run: ({ ctx, input }) => listConsents(ctx.store, input.host, input, input.after, input.size),
});
