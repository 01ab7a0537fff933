import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { addComment } from '../../../../../server/obligations/work/measure-comments.ts';

/** Says something about a measure to those who work on it. */
export const POST = endpoint({
  action: 'obligations.work',
  input: z.object({
    key: z.string().max(100),
    said: z.string().trim().min(1, 'Say something.').max(4000),
  }),
  object: (_ctx, { key }) => ({ kind: 'measure work', id: key }),
  run: async ({ ctx, account, input }) => ({
    id: await addComment(ctx, account.id, input.key, input.said),
  }),
});
