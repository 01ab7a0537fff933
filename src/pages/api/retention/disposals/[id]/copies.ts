import { z } from 'zod';
import { inScope } from '../../../../../core/accounts/scope.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { knownCopies } from '../../../../../server/retention/disposal/copies.ts';
import { disposalObject } from '../../../../../server/retention/disposal/disposals.ts';

/** What else holds the same bytes, and stays. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/) }),
  object: disposalObject,
  run: ({ ctx, account, input: { id } }) =>
    knownCopies(ctx.store, id, (source) => inScope(account, 'source', String(source))),
});
