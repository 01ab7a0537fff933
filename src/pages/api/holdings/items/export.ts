import { z } from 'zod';
import { attachment } from '../../../../server/http/attachment.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { exportItems } from '../../../../server/holdings/items/item-export.ts';
import { ItemOrderInput, LensLine } from '../../../../server/holdings/items/explorer.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine, order: ItemOrderInput, format: z.enum(['csv', 'jsonl']).default('csv') }),
  run: ({ ctx, account, input }) =>
    EXPORTING.use(account.id, async () =>
      attachment(
        `items.${input.format}`,
        input.format === 'csv' ? 'text/csv; charset=utf-8' : 'application/jsonl',
        await exportItems(ctx, account, input),
      ),
    ),
});
