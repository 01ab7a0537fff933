import { z } from 'zod';
import { beginKeeping, endKeeping } from '../../../../../server/accounts/sign-on/keeping.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** A token that a provider keeps accounts with, by SCIM; shown this once. */
export const POST = endpoint({
  action: 'accounts.edit',
  input: Id.extend({ days: z.int().min(1, 'A day at least').max(730, 'Two years at most') }),
  byPeople: true,
  run: ({ ctx, account, input }) => beginKeeping(ctx, account.id, input.id, input.days),
});

/** It keeps accounts no more. */
export const DELETE = endpoint({
  action: 'accounts.edit',
  input: Id,
  byPeople: true,
  run: ({ ctx, account, input }) => endKeeping(ctx, account.id, input.id),
});
