import { z } from 'zod';
import { groupsOfProvider } from '../../../../../server/accounts/sign-on/groups.ts';
import { findProvider, setSecret, stopProvider } from '../../../../../server/accounts/sign-on/providers.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** A provider, with the groups that it told of and who is in them. */
export const GET = endpoint({
  action: 'accounts.read',
  input: Id,
  run: async ({ ctx, input }) => ({
    ...(await findProvider(ctx.store, input.id)),
    groups: await groupsOfProvider(ctx.store, input.id),
  }),
});

/** Stops a provider or takes it in use again, or gives it another client secret. */
export const PATCH = endpoint({
  action: 'accounts.edit',
  input: Id.extend({ stopped: z.boolean().optional(), clientSecret: z.string().max(500).optional() }),
  byPeople: true,
  run: async ({ ctx, account, input }) => {
    if (input.clientSecret !== undefined) await setSecret(ctx, account.id, input.id, input.clientSecret);
    if (input.stopped !== undefined) await stopProvider(ctx, account.id, input.id, input.stopped);
  },
});
