import { z } from 'zod';
import { Board } from '../../../../core/figures/board.ts';
import { addBoard, listBoards } from '../../../../server/evidence/boards/boards.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'boards.read',
  input: z.object({}),
  run: async ({ ctx }) =>
    (await listBoards(ctx.store)).map(({ id, content }) => ({
      ...{ id, name: content.name, about: content.about, figures: content.tiles.map((t) => t.figure) },
    })),
});

export const POST = endpoint({
  action: 'boards.edit',
  input: Board,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addBoard(tx, ctx.now(), account.id, input)),
  }),
});
