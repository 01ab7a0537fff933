import { z } from 'zod';
import { addLink, linksOf, LONGEST_DAYS } from '../../../../../../server/evidence/boards/board-links.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../../server/http/whole.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'boards.share',
  input: Id,
  run: ({ ctx, input }) => linksOf(ctx, input.id),
});

/** The address is told this once. */
export const POST = endpoint({
  action: 'boards.share',
  input: Id.extend({
    words: z.string().trim().max(160, 'At most 160 characters').default(''),
    days: z.int().min(1, 'A day at least').max(LONGEST_DAYS, 'A year at most'),
  }),
  // Who sees it sees what whoever made it may see, of all there is.
  object: whole('figure'),
  run: async ({ ctx, account, input: { id, ...link } }) => {
    const { token, ...made } = await addLink(ctx, account.id, { board: id, ...link });
    return { ...made, address: `${ctx.settings.WEB_ORIGIN}/board/${token}` };
  },
});
