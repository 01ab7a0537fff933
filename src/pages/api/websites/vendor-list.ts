import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { READING } from '../../../server/http/shares.ts';
import { whole } from '../../../server/http/whole.ts';
import { takeVendorList, vendorListFigures } from '../../../server/websites/notices/vendor-lists.ts';

/** What vendors and purposes there are to choose from. */
export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => vendorListFigures(ctx.store),
});

/** Takes a list that was sent before in the place of the one that holds. */
export const POST = endpoint({
  action: 'websites.edit',
  input: z.object({ upload: z.int().positive() }),
  object: whole('vendor list', ['site']),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => takeVendorList(ctx, account.id, input.upload)),
});
