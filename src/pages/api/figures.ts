import { z } from 'zod';
import { figuresOf, thinned } from '../../server/desk/figures.ts';
import { endpoint } from '../../server/http/endpoint.ts';
import { whole } from '../../server/http/whole.ts';

/** The catalogue, each figure with its days; with `points`, with so many of them at most, the last among them. */
export const GET = endpoint({
  action: 'today.read',
  input: z.object({
    days: z.coerce.number().int().min(1).max(1100).default(90),
    points: z.coerce.number().int().min(1).optional(),
  }),
  object: whole('figure'),
  run: async ({ ctx, account, input: { days, points } }) => {
    const all = await figuresOf(ctx, account, days);
    return points === undefined ? all : all.map((f) => ({ ...f, days: thinned(f.days, points) }));
  },
});
