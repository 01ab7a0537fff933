import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addSet, listSets } from '../../../../server/holdings/detection/labelled/labelled-sets.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: ({ ctx }) => listSets(ctx.store),
});

export const POST = endpoint({
  action: 'holdings.edit',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name').max(120) }),
  run: ({ ctx, account, input }) => addSet(ctx, account.id, input.name),
});
