import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { moveNotice } from '../../../../../server/websites/notices/notices.ts';

export const POST = endpoint({
  action: 'websites.put-in-force',
  input: HostInput.extend({
    act: z.enum(['rehearse', 'end rehearsal', 'put in force', 'pause', 'resume', 'retire', 'reopen']),
    revision: z.int().nonnegative(),
  }),
  object: siteObject,
  run: async ({ ctx, account, input }) => ({
    stage: await moveNotice(ctx, account.id, input.host, input.act, input.revision),
  }),
});
