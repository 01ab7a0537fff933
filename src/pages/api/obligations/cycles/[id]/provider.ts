import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { takeProviderFile } from '../../../../../server/obligations/work/provider-answers.ts';

/** Takes in what a provider says of its measures. */
export const POST = endpoint({
  action: 'obligations.work',
  input: z.object({
    id: z.coerce.number().int().positive().max(4_294_967_295),
    upload: z.int().positive('Choose a file.'),
  }),
  run: ({ ctx, account, input }) =>
    takeProviderFile(ctx, account.id, { cycle: input.id, upload: input.upload }),
});
