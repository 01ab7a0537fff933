import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../../server/http/shares.ts';
import { checkSource, sourceObject } from '../../../../../server/holdings/sources/sources.ts';

export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: sourceObject,
  run: ({ ctx, account, input }) => ASKING.use(account.id, () => checkSource(ctx, input.id)),
});
