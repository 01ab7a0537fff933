import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { disposalObject, viewDisposal } from '../../../../../server/retention/disposal/disposals.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/) }),
  object: disposalObject,
  run: ({ ctx, account, input }) => viewDisposal(ctx.store, input.id, account),
});
