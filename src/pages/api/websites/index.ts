import { z } from 'zod';
import { SITE_LIST } from '../../../core/websites/sites/site-list.ts';
import { pageShape } from '../../../server/lists/list-source.ts';
import { NewSite } from '../../../core/websites/sites/new-site.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { ASKING } from '../../../server/http/shares.ts';
import { addSite, listSites } from '../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object(pageShape(SITE_LIST)),
  run: ({ ctx, account, input }) => listSites(ctx.store, account, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: NewSite.extend({ name: NewSite.shape.name.default('') }),
  object: whole('site', ['site']),
  run: ({ ctx, account, input }) =>
    ASKING.use(account.id, () => addSite(ctx, account.id, input.address, input.name)),
});
