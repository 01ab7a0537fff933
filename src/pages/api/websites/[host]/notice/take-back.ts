import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/host-input.ts';
import { takeBack } from '../../../../../server/websites/notices.ts';

export const POST = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ version: z.int().positive() }),
  object: siteObject,
  run: ({ ctx, account, input }) => takeBack(ctx, account.id, input.host, input.version),
});
