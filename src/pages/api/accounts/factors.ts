import { z } from 'zod';
import { changeFactors, OwnFactorInput, ownFactors } from '../../../server/accounts/sign-in/own-factors.ts';
import { sessionToken } from '../../../server/accounts/session.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** What one signs in with, and what is asked of one. */
export const GET = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: ({ ctx, account }) => ownFactors(ctx, account),
});

/** Sets up or takes away a passkey or one-time codes, or makes new recovery codes. */
export const POST = endpoint({
  action: 'own-sessions',
  input: OwnFactorInput,
  byPeople: true,
  run: ({ ctx, account, input, request, address }) =>
    changeFactors(ctx, account, input, { token: sessionToken(request), address }),
});
