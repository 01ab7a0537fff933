import { endpoint } from '../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { siteDetail } from '../../../../server/websites/sites/site-detail.ts';
import { editSite, SiteEdit } from '../../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: ({ ctx, input }) => siteDetail(ctx, input.host),
});

export const PATCH = endpoint({
  action: 'websites.edit',
  /** `saw`: what the editor saw of what is changed. */
  input: HostInput.extend(SiteEdit.shape).extend({ saw: SiteEdit }),
  object: siteObject,
  run: ({ ctx, account, input: { host, saw, ...edit } }) => editSite(ctx, account.id, host, edit, saw),
});
