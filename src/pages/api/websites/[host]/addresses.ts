import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import {
  AlsoAt,
  moveSite,
  readAddresses,
  retireSite,
  sayAddresses,
} from '../../../../server/websites/sites/site-addresses.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: async ({ ctx, input }) => readAddresses(ctx.store, (await findSite(ctx.store, input.host)).id),
});

/** Moves the site to another address. */
export const POST = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ address: z.string().trim().min(1, 'Type an address').max(2000) }),
  object: siteObject,
  run: ({ ctx, account, input }) => moveSite(ctx, account.id, input.host, input.address),
});

/** Other hosts it answers at; `saw`: what the editor saw. */
export const PUT = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ alsoAt: AlsoAt, saw: z.array(z.string().max(260)).max(20) }),
  object: siteObject,
  run: ({ ctx, account, input }) => sayAddresses(ctx, account.id, input.host, input.alsoAt, input.saw),
});

export const PATCH = endpoint({
  action: 'websites.put-in-force',
  input: HostInput.extend({ retired: z.boolean() }),
  object: siteObject,
  run: ({ ctx, account, input }) => retireSite(ctx, account.id, input.host, input.retired),
});
