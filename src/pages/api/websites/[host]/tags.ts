import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { listTags, sayTags, TagsSaid } from '../../../../server/websites/gate/tags.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => listTags(ctx.store, input.host),
});

export const POST = endpoint({
  action: 'websites.edit',
  /** `byHand`: no sweep has found them yet. */
  input: HostInput.extend(TagsSaid.shape).extend({ byHand: z.boolean().default(false) }),
  object: siteObject,
  run: ({ ctx, account, input: { host, byHand, ...said } }) => sayTags(ctx, account.id, host, said, byHand),
});
