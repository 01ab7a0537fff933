import { z } from 'zod';
import { policyVerdict } from '../../../../core/accounts/sign-in/policy-outlook.ts';
import { SignInPolicy } from '../../../../core/accounts/sign-in/policy.ts';
import { peopleSigningIn } from '../../../../server/accounts/sign-in/policy-kind.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** What a policy would come to for everybody, were it in force. */
export const POST = endpoint({
  action: 'accounts.read',
  input: z.object({ content: SignInPolicy }),
  run: async ({ ctx, input }) =>
    (await peopleSigningIn(ctx.store, ctx.now())).map((p) => ({
      ...policyVerdict(input.content, p),
      name: p.name,
    })),
});
