import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { rehearseWish } from '../../../../server/access/change/rehearse-wish.ts';
import { ChangeWish } from '../../../../server/access/index/change-answers.ts';

/** What would follow from what is wanted; nothing is kept. */
export const POST = endpoint({
  action: 'access.read',
  input: z.object({ wish: ChangeWish }),
  object: whole('estate'),
  run: ({ ctx, input }) => rehearseWish(ctx, input.wish),
});
