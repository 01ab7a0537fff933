import { z } from 'zod';
import { figuresOf } from '../../../../server/desk/figures.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** The catalogue, each figure with its days. */
export const GET = endpoint({
  action: 'boards.read',
  input: z.object({ days: z.coerce.number().int().min(1).max(1100).default(90) }),
  object: whole('figure'),
  run: ({ ctx, account, input }) => figuresOf(ctx, account, input.days),
});
