import { z } from 'zod';
import { figureIds } from '../../../../../server/desk/figures.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { previewFramework } from '../../../../../server/obligations/library/take-framework.ts';

/** Says of a file that was sent all that is wrong with it, or what taking it in would do. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => previewFramework(ctx, account.id, { ...input, figures: figureIds() })),
});
