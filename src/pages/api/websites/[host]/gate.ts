import { endpoint } from '../../../../server/http/endpoint.ts';
import { editGate, GateEdit, readGate } from '../../../../server/websites/gate/site-gate.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';
import { GateSettings } from '../../../../core/websites/gate/gate-settings.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: async ({ ctx, input }) => readGate(ctx.store, (await findSite(ctx.store, input.host)).id),
});

export const PATCH = endpoint({
  action: 'websites.put-in-force',
  input: HostInput.extend(GateEdit.shape).extend({ saw: GateSettings }),
  object: siteObject,
  run: ({ ctx, account, input: { host, saw, ...edit } }) => editGate(ctx, account.id, host, edit, saw),
});
