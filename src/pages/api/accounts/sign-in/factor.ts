import { z } from 'zod';
import { TypedCode } from '../../../../core/accounts/sign-in/one-time.ts';
import { PasskeyAnswer } from '../../../../server/accounts/sign-in/passkeys.ts';
import { signInByFactor } from '../../../../server/accounts/sign-in/sign-in.ts';
import { signInEndpoint, toldOf } from '../../../../server/http/signing-in.ts';

/** The second step of signing in: a code, or a passkey. */
export const POST = signInEndpoint({
  input: z.object({ code: TypedCode.optional(), passkey: PasskeyAnswer.optional() }),
  run: async ({ ctx, input, step, from }, api) =>
    toldOf(
      api,
      ctx,
      await signInByFactor(
        ctx,
        step,
        input.passkey ? { passkey: input.passkey } : { code: input.code ?? '' },
        from,
      ),
    ),
});
