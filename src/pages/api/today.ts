import { z } from 'zod';
import { endpoint } from '../../server/http/endpoint.ts';
import { dismissItem, todayItems } from '../../server/desk/today.ts';

export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx, account }) => todayItems(ctx, account),
});

export const DELETE = endpoint({
  action: 'today.read',
  input: z.object({ kind: z.string().min(1).max(40), key: z.string().min(1).max(120) }),
  run: ({ ctx, account, input }) => dismissItem(ctx, account, input.kind, input.key),
});
