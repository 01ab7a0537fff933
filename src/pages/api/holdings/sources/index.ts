import { z } from 'zod';
import { SOURCE_LIST } from '../../../../core/holdings/sources/source-list.ts';
import { SourceAddress, SourceContent } from '../../../../core/holdings/sources/source.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../server/http/shares.ts';
import { whole } from '../../../../server/http/whole.ts';
import { insertSource, listSources, tryAddress } from '../../../../server/holdings/sources/sources.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object(pageShape(SOURCE_LIST)),
  run: ({ ctx, account, input }) => listSources(ctx, account, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    content: SourceContent,
    address: SourceAddress,
    secret: z.string().max(2000).default(''),
  }),
  object: whole('source', ['source']),
  run: async ({ ctx, account, input }) => {
    await ASKING.use(account.id, () => tryAddress(ctx, input.address, input.secret, input.content));
    return { id: await ctx.store.transaction((tx) => insertSource(tx, ctx, account.id, input)) };
  },
});
