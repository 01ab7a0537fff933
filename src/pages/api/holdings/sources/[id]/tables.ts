import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../../server/http/shares.ts';
import { sourceObject, sourceTables } from '../../../../../server/holdings/sources/sources.ts';

/** Tables of a database and their columns, as it tells them now; none of other sources. */
export const GET = endpoint({
  action: 'holdings.sources',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: sourceObject,
  run: ({ ctx, account, input }) => ASKING.use(account.id, () => sourceTables(ctx, input.id)),
});
