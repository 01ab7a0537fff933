import { SetUpInput } from '../../../../server/accounts/sign-in/set-up-input.ts';
import { setUpToSignIn } from '../../../../server/accounts/sign-in/sign-in.ts';
import { signInEndpoint, toldOf } from '../../../../server/http/signing-in.ts';

/** Sets up the second factor that is asked and missing, as part of signing in. */
export const POST = signInEndpoint({
  input: SetUpInput,
  run: async ({ ctx, input, step, from }, api) => {
    const done = await setUpToSignIn(ctx, step, input, from);
    if ('secret' in done || 'options' in done) return done;
    return { ...toldOf(api, ctx, done), recovery: done.recovery };
  },
});
