import { z } from 'zod';
import { figureIds } from '../../../../../server/desk/figures.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { takeFramework } from '../../../../../server/obligations/library/take-framework.ts';

/** Takes a framework in as it was looked at. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({
    upload: z.int().positive(),
    before: z
      .string()
      .regex(/^[0-9a-f]{64}$/)
      .nullable(),
  }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => takeFramework(ctx, account.id, { ...input, figures: figureIds() })),
});
