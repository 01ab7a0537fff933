import { z } from 'zod';
import { figuresOf, knownFigure } from '../../../../../server/desk/figures.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { notFound } from '../../../../../core/refusal.ts';

const DAYS = 1100;

/** One figure with each of its days. */
export const GET = endpoint({
  action: 'boards.read',
  input: z.object({ id: z.string().max(60) }),
  object: whole('figure'),
  run: async ({ ctx, account, input: { id } }) => {
    knownFigure(account, id);
    const [figure] = await figuresOf(ctx, account, DAYS, { only: new Set([id]) });
    if (!figure) throw notFound('figure');
    return figure;
  },
});
