import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { itemNames } from '../../../../server/holdings/items/item-names.ts';

/** What lenses on items can name. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: async ({ ctx, account }) => {
    const { sources, detectors, levels, levelRules } = await itemNames(ctx.store);
    const mine = account.scope?.['source'];
    return {
      sources: [...sources].filter(([id]) => !mine || mine.includes(id)),
      detectors: [...detectors],
      levels: [...levels],
      levelRules: [...levelRules],
    };
  },
});
