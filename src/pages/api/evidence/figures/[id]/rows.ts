import { z } from 'zod';
import { byPart } from '../../../../../core/figures/figure-row.ts';
import { PART_NAMES } from '../../../../../core/figures/figure.ts';
import { knownFigure } from '../../../../../server/desk/figures.ts';
import { rowsOn } from '../../../../../server/figures/kept-figures.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

const PAGE = 100;

/** The rows of a figure as they were at the end of a day, the largest first; of one part, where that is said. */
export const GET = endpoint({
  action: 'boards.read',
  input: z.object({
    id: z.string().max(60),
    day: z.iso.date(),
    by: z.enum(PART_NAMES).optional(),
    part: z.string().max(500).optional(),
    after: z.coerce.number().int().nonnegative().default(0),
  }),
  object: whole('figure'),
  run: async ({ ctx, account, input: { id, day, by, part, after } }) => {
    const figure = knownFigure(account, id);
    const all = await rowsOn(ctx.store, id, day);
    const rows = by && part !== undefined ? all.filter((r) => (r.parts[by] ?? '') === part) : all;
    const end = after + PAGE;
    return {
      rows: rows.slice(after, end),
      next: end < rows.length ? String(end) : null,
      total: rows.length,
      parts: (figure.parts ?? []).map((p) => ({ by: p, values: byPart(figure, all, p) })),
    };
  },
});
