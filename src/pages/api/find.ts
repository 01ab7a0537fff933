import { z } from 'zod';
import { find } from '../../server/desk/find.ts';
import { endpoint } from '../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'today.read',
  input: z.object({ text: z.string().trim().min(1, 'Type something to find').max(100) }),
  run: ({ ctx, account, input }) => find(ctx, account, input.text),
});
