import { listShape } from '../../../../../core/lists/list-shape.ts';
import { CONSENT_LIST } from '../../../../../core/websites/consents/consent-list.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { consentFacets, countConsents } from '../../../../../server/websites/consents/consents.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';

/** How many match, and what there is to filter by: what the first page does not wait for. */
export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend(listShape(CONSENT_LIST)),
  object: siteObject,
  run: async ({ ctx, input }) => {
    const [total, facets] = await Promise.all([
      countConsents(ctx.store, input.host, input),
      consentFacets(ctx.store, input.host, input),
    ]);
    return { total, facets };
  },
});
