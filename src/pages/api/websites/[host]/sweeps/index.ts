import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { startSweep, SweepWish } from '../../../../../server/websites/sweeps/sweeps.ts';

export const POST = endpoint({
  action: 'websites.sweep',
  input: HostInput.extend(SweepWish.shape),
  object: siteObject,
  run: ({ ctx, account, input }) => startSweep(ctx, account.id, input.host, input),
});
