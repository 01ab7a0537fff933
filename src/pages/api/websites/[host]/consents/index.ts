import { CONSENT_LIST } from '../../../../../core/websites/consents/consent-list.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../../server/lists/list-source.ts';
import type { Page } from '../../../../../server/store/page.ts';
import type { ConsentRecord } from '../../../../../server/websites/consents/consent-record.ts';
import {
  consentFacets,
  countConsents,
  listConsents,
  type ConsentFacets,
} from '../../../../../server/websites/consents/consents.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';

/** A page of records; with the first, how many match and what there is to filter by. */
export interface ConsentPage extends Page<ConsentRecord> {
  readonly total?: number;
  readonly facets?: ConsentFacets;
}

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend(pageShape(CONSENT_LIST)),
  object: siteObject,
  run: async ({ ctx, input }): Promise<ConsentPage> => {
    const page = await listConsents(ctx.store, input.host, input, input.after, input.size);
    if (input.after !== undefined) return page;
    const [total, facets] = await Promise.all([
      countConsents(ctx.store, input.host, input),
      consentFacets(ctx.store, input.host, input),
    ]);
    return { ...page, total, facets };
  },
});
