import { z } from 'zod';
import { endpoint } from '../../server/http/endpoint.ts';
import { todayItems } from '../../server/today/items.ts';

export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx }) => todayItems(ctx.store),
});
