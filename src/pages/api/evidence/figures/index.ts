import { z } from 'zod';
import { figuresOf, thinned } from '../../../../server/desk/figures.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

const MOST_POINTS = 60;

/** The catalogue, each figure with how it went: some of its days, the last among them. */
export const GET = endpoint({
  action: 'boards.read',
  input: z.object({ days: z.coerce.number().int().min(1).max(1100).default(365) }),
  object: whole('figure'),
  run: async ({ ctx, account, input }) =>
    (await figuresOf(ctx, account, input.days)).map((f) => ({ ...f, days: thinned(f.days, MOST_POINTS) })),
});
