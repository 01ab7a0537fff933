import { z } from 'zod';
import { showBoard } from '../../../../../server/desk/shown-board.ts';
import { removeBoard } from '../../../../../server/evidence/boards/boards.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** What its figures were on a day, of those the account may know. */
export const GET = endpoint({
  action: 'boards.read',
  input: Id.extend({ day: z.iso.date().optional() }),
  object: whole('figure'),
  run: ({ ctx, account, input }) => showBoard(ctx, account, input.id, input.day),
});

export const DELETE = endpoint({
  action: 'boards.edit',
  input: Id,
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeBoard(tx, ctx.now(), account, input.id)),
});
