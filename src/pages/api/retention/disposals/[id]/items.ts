import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  disposalItems,
  disposalObject,
  ITEM_STATES,
} from '../../../../../server/retention/disposal/disposals.ts';
import { PageSize } from '../../../../../server/store/page.ts';

/** Its items, and what became of each. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({
    id: z.string().regex(/^\d{1,18}$/),
    state: z.enum(ITEM_STATES).optional(),
    after: z.string().max(200).optional(),
    size: PageSize,
  }),
  object: disposalObject,
  run: ({ ctx, account, input: { id, ...wish } }) => disposalItems(ctx.store, id, { ...wish, account }),
});
