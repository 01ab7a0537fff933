import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { SweepInput } from '../../../../../../server/websites/sweeps/sweep-input.ts';
import { markSeen } from '../../../../../../server/websites/sweeps/sweeps.ts';

export const POST = endpoint({
  action: 'websites.edit',
  input: SweepInput,
  object: siteObject,
  run: ({ ctx, account, input }) => markSeen(ctx, account.id, input.host, input.id),
});
