import { z } from 'zod';
import { LETTER_LANGUAGES, type LetterLanguage } from '../../../core/outbox/letter.ts';
import { chooseLanguage, letterLanguage } from '../../../server/accounts/account-care.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

const Languages = Object.keys(LETTER_LANGUAGES) as [LetterLanguage, ...LetterLanguage[]];

/** In which language one gets letters. */
export const GET = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: async ({ ctx, account }) => ({ language: await letterLanguage(ctx.store, account.id) }),
});

export const PUT = endpoint({
  action: 'own-sessions',
  input: z.object({ language: z.enum(Languages) }),
  run: ({ ctx, account, input }) => chooseLanguage(ctx, account, input.language),
});
