import { z } from 'zod';
import { notFound } from '../../../../../../core/refusal.ts';
import { figuresOf } from '../../../../../../server/desk/figures.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { freezeFigure } from '../../../../../../server/obligations/work/frozen-figure.ts';

const DAYS = 90;

/** Adds a figure of the program as it shows now. */
export const POST = endpoint({
  action: 'obligations.work',
  input: z.object({
    key: z.string().max(100),
    figure: z.string().max(80),
    until: z.iso.date().nullable(),
  }),
  object: (_ctx, { key }) => ({ kind: 'measure work', id: key }),
  run: async ({ ctx, account, input }) => {
    const figure = (await figuresOf(ctx, account, DAYS)).find((f) => f.id === input.figure);
    if (!figure) throw notFound('figure');
    return { id: await freezeFigure(ctx, account.id, input.key, figure, input.until) };
  },
});
