import { VisitWish } from '../../../../../core/websites/visits/visit.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { listVisits, startVisitOf } from '../../../../../server/websites/visits/visit-store.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => listVisits(ctx.store, input.host),
});

export const POST = endpoint({
  action: 'websites.sweep',
  input: HostInput.extend(VisitWish.shape),
  object: siteObject,
  run: ({ ctx, account, input: { host, ...wish } }) => startVisitOf(ctx, account.id, host, wish),
});
