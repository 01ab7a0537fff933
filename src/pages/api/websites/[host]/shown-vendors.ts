import { narrowList } from '../../../../core/websites/tcf/narrow-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { readVendorList } from '../../../../server/websites/notices/vendor-lists.ts';
import { findNotice } from '../../../../server/websites/notices/notices.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

/** Those that the draft of the notice asks about, as a visitor’s browser would have them, for its preview. */
export const GET = endpoint({
  action: 'websites.read',
  input: HostInput,
  object: siteObject,
  run: async ({ ctx, input }) => {
    const { content } = await findNotice(ctx.store, input.host);
    return { list: content.tcf && narrowList(await readVendorList(ctx.store), content.tcf.vendors) };
  },
});
