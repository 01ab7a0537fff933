import { z } from 'zod';
import { NewProvider } from '../../../../core/accounts/sign-on/provider.ts';
import { readConfiguration, redirectUri } from '../../../../server/accounts/sign-on/oidc.ts';
import { addProvider, listProviders } from '../../../../server/accounts/sign-on/providers.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Providers whose word opens the desk, and what each is told of this one. */
export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({}),
  run: async ({ ctx }) => ({
    providers: await listProviders(ctx.store),
    redirect: redirectUri(ctx),
    scim: `${ctx.settings.WEB_ORIGIN}/scim/v2`,
  }),
});

/** Adds a provider, once its configuration could be read. */
export const POST = endpoint({
  action: 'accounts.edit',
  input: NewProvider,
  byPeople: true,
  run: async ({ ctx, account, input }) => {
    const { issuer, clientId, clientSecret } = input;
    await readConfiguration(ctx, { issuer, clientId, secret: clientSecret });
    return { id: await addProvider(ctx, account.id, input) };
  },
});
