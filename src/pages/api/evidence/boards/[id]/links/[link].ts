import { z } from 'zod';
import { endLink } from '../../../../../../server/evidence/boards/board-links.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

export const DELETE = endpoint({
  action: 'boards.share',
  input: z.object({ id: z.coerce.number().int().positive(), link: z.coerce.number().int().positive() }),
  run: ({ ctx, account, input }) => endLink(ctx, account.id, input.id, input.link),
});
