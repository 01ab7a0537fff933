import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { takeBack } from '../../../../../server/websites/notices/notices.ts';

export const POST = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({ version: z.int().positive(), revision: z.int().nonnegative() }),
  object: siteObject,
  run: ({ ctx, account, input: { host, version, revision } }) =>
    takeBack(ctx, account.id, host, version, revision),
});
