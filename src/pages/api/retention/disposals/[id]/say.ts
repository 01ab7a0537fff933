import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { disposalObject } from '../../../../../server/retention/disposal/disposals.ts';
import { sayToDisposal } from '../../../../../server/retention/disposal/say.ts';

/** Agrees that all of it goes, or has all of it stay. */
export const POST = endpoint({
  action: 'retention.dispose',
  byPeople: true,
  input: z.object({
    id: z.string().regex(/^\d{1,18}$/),
    agrees: z.boolean(),
    reason: z.string().trim().max(400).default(''),
    until: z.iso.date().nullable().default(null),
  }),
  object: disposalObject,
  run: ({ ctx, account, input: { id, ...word } }) =>
    sayToDisposal(ctx, { address: account.email, name: account.name, account: account.id }, id, word),
});
