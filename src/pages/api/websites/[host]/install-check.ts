import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { startInstallCheck } from '../../../../server/websites/sites/install-check.ts';

export const POST = endpoint({
  action: 'websites.sweep',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, account, input }) => startInstallCheck(ctx, account.id, input.host),
});
