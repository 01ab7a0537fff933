import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { firstToGo } from '../../../../../server/retention/rehearsal/outlook.ts';
import { PageSize } from '../../../../../server/store/page.ts';

/** The first to go if a rule were in force today, as its draft stands. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().max(20), after: z.string().max(200).optional(), size: PageSize }),
  object: (_ctx, { id }) => ({ kind: 'retention rule', id }),
  run: ({ ctx, account, input }) => firstToGo(ctx, account, input.id, input.after, input.size),
});
