import { z } from 'zod';
import { endpoint } from '../../server/http/endpoint.ts';
import { todayItems } from '../../server/desk/today-items.ts';
import { dismissTold, TOLD_KINDS } from '../../server/desk/told-item.ts';

export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx, account }) => todayItems(ctx.store, account),
});

export const DELETE = endpoint({
  action: 'today.read',
  input: z.object({ kind: z.enum(TOLD_KINDS), key: z.string().min(1).max(120) }),
  run: ({ ctx, account, input }) => dismissTold(ctx, account, input.kind, input.key),
});
