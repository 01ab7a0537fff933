import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { beginTrial, endTrial, viewTrial } from '../../../../server/websites/notices/notice-trials.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => viewTrial(ctx, input.host),
});

export const PUT = endpoint({
  action: 'websites.put-in-force',
  /** Of visitors who see the version on trial, in percent. */
  input: HostInput.extend({ share: z.int().min(1, 'At least 1 %').max(50, 'At most 50 %') }),
  object: siteObject,
  run: ({ ctx, account, input }) => beginTrial(ctx, account.id, input.host, input.share),
});

export const DELETE = endpoint({
  action: 'websites.put-in-force',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, account, input }) => endTrial(ctx, account.id, input.host),
});
