import { z } from 'zod';
import { ItemInput } from '../../../server/desk/item-input.ts';
import { putOff, takeUpAgain } from '../../../server/desk/today-own.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** Until a moment (ISO 8601, with its offset); for this account alone. */
export const PUT = endpoint({
  action: 'today.read',
  input: ItemInput.extend({ until: z.iso.datetime({ offset: true }) }),
  run: ({ ctx, account, input }) => putOff(ctx, account, input.kind, input.key, new Date(input.until)),
});

export const DELETE = endpoint({
  action: 'today.read',
  input: ItemInput,
  run: ({ ctx, account, input }) => takeUpAgain(ctx, account, input.kind, input.key),
});
