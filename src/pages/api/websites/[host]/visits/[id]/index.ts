import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { VisitInput } from '../../../../../../server/websites/visits/visit-input.ts';
import { readVisit } from '../../../../../../server/websites/visits/visit-store.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: VisitInput,
  object: siteObject,
  run: ({ ctx, input }) => readVisit(ctx.store, input.host, input.id),
});
