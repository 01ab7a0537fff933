import { z } from 'zod';
import { boardPdf } from '../../../../../server/desk/board-pdf.ts';
import { showBoard } from '../../../../../server/desk/shown-board.ts';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

/** The board on one page. */
export const GET = endpoint({
  action: 'boards.read',
  input: z.object({ id: z.coerce.number().int().positive(), day: z.iso.date().optional() }),
  object: whole('figure'),
  run: async ({ ctx, account, input }) => {
    const shown = await showBoard(ctx, account, input.id, input.day);
    return attachment(`${shown.board.name} ${shown.day}.pdf`, 'application/pdf', await boardPdf(shown));
  },
});
