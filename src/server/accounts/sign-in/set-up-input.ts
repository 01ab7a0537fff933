import { z } from 'zod';
import { TypedCode } from '../../../core/accounts/sign-in/one-time.ts';
import { PasskeyAnswer } from './passkeys.ts';

/** What is sent to set up one-time codes or a passkey: first one asks for it, then one shows that it works. */
export const SetUpInput = z.discriminatedUnion('do', [
  z.object({ do: z.literal('code') }),
  z.object({ do: z.literal('passkey') }),
  z.object({ do: z.literal('keep code'), code: TypedCode }),
  z.object({
    do: z.literal('keep passkey'),
    name: z.string().trim().min(1, 'Give it a name').max(120, '120 letters at most'),
    answer: PasskeyAnswer,
  }),
]);
export type SetUpInput = z.infer<typeof SetUpInput>;
