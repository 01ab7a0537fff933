import { z } from 'zod';
import { endpoint } from '../../server/http/endpoint.ts';
import { dismissItem } from '../../server/desk/today.ts';
import { ItemInput } from '../../server/desk/item-input.ts';
import { listToday } from '../../server/desk/today-list.ts';

/** All that the account may know of, each in its part: its own, what others have, what it put off. */
export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx, account }) => listToday(ctx, account),
});

export const DELETE = endpoint({
  action: 'today.read',
  input: ItemInput,
  run: ({ ctx, account, input }) => dismissItem(ctx, account, input.kind, input.key),
});
