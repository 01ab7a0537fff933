import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { PageSize, type Page } from '../../../../../server/store/page.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import {
  ConsentFilter,
  consentFacets,
  countConsents,
  listConsents,
  type ConsentRecord,
} from '../../../../../server/websites/consents/consents.ts';

/** A page of records; with the first, how many match and what there is to filter by. */
export interface ConsentPage extends Page<ConsentRecord> {
  readonly total?: number;
  readonly facets?: { readonly regions: readonly string[]; readonly versions: readonly number[] };
}

export const GET = endpoint({
  action: 'consent.read',
  input: HostInput.extend(ConsentFilter.shape).extend({
    after: z.string().max(500).optional(),
    size: PageSize,
  }),
  object: siteObject,
  run: async ({ ctx, input }): Promise<ConsentPage> => {
    const page = await listConsents(ctx.store, input.host, input, input.after, input.size);
    if (input.after !== undefined) return page;
    const [total, facets] = await Promise.all([
      countConsents(ctx.store, input.host, input),
      consentFacets(ctx.store, input.host),
    ]);
    return { ...page, total, facets };
  },
});
