import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { findNotice } from '../../../../server/websites/notices/notices.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => findNotice(ctx.store, input.host),
});
