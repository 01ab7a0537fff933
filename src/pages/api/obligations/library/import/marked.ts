import { z } from 'zod';
import { figureIds } from '../../../../../server/desk/figures.ts';
import { XLSX } from '../../../../../server/holdings/offers.ts';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { markedFramework } from '../../../../../server/obligations/library/take-framework.ts';

/** What was sent as a workbook, with every fault marked and explained at its cell. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, async () =>
      attachment(
        'framework-marked.xlsx',
        XLSX,
        await markedFramework(ctx, account.id, { ...input, figures: figureIds() }),
      ),
    ),
});
