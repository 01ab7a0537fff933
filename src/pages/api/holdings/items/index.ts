import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import {
  ComparedInput,
  explorerPage,
  ItemOrderInput,
  LensLine,
} from '../../../../server/holdings/items/explorer.ts';
import { PageSize } from '../../../../server/store/page.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({
    lens: LensLine,
    order: ItemOrderInput,
    after: z.string().max(900).optional(),
    size: PageSize,
    ...ComparedInput,
  }),
  run: ({ ctx, account, input }) => explorerPage(ctx, account, input),
});
