import { z } from 'zod';
import { PasskeyAnswer } from '../../../../server/accounts/sign-in/passkeys.ts';
import { askWhichPasskey, signInByPasskey } from '../../../../server/accounts/sign-in/sign-in.ts';
import { setStep } from '../../../../server/http/session-cookies.ts';
import { signInEndpoint, toldOf } from '../../../../server/http/signing-in.ts';

/** Signs in with a passkey alone: without one it answers with what to show a passkey for. */
export const POST = signInEndpoint({
  input: z.object({ passkey: PasskeyAnswer.optional() }),
  run: async ({ ctx, input, step, from }, api) => {
    if (input.passkey) return toldOf(api, ctx, await signInByPasskey(ctx, step, input.passkey, from));
    const asked = await askWhichPasskey(ctx);
    setStep(api.cookies, api.url, ctx.settings, asked.step);
    return { options: asked.options };
  },
});
