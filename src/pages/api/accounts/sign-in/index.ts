import { z } from 'zod';
import { signInByPassword } from '../../../../server/accounts/sign-in/sign-in.ts';
import { signInEndpoint, toldOf } from '../../../../server/http/signing-in.ts';

/** Nobody has to be signed in for it. */
export const POST = signInEndpoint({
  input: z.object({
    email: z.string().min(3, 'Type your e-mail').max(190),
    password: z.string().min(1, 'Type your password').max(500),
  }),
  run: async ({ ctx, input, from }, api) =>
    toldOf(api, ctx, await signInByPassword(ctx, { ...input, ...from })),
});
