import { z } from 'zod';
import { AccessAddress } from '../../../../../core/access/sources/access-source.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { lineSourcesOf } from '../../../../../server/access/sources/line-sources.ts';
import { moveAccessSource } from '../../../../../server/access/sources/move-source.ts';
import { removeAccessSource } from '../../../../../server/access/sources/remove-source.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../../server/http/shares.ts';
import { whole } from '../../../../../server/http/whole.ts';

/** Where its items lie. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, input }) => lineSourcesOf(ctx, input.id),
});

/** Reads it elsewhere from now on; without a secret, the one it has stays. */
export const PUT = endpoint({
  action: 'access.sources',
  input: z.object({
    id: RowId,
    address: AccessAddress,
    secret: z.string().max(2000).optional(),
    upload: z.int().positive().optional(),
  }),
  object: whole('estate'),
  run: ({ ctx, account, input }) =>
    ASKING.use(account.id, () => moveAccessSource(ctx, account.id, input.id, input)),
});

/** What was known of past days stays known. */
export const DELETE = endpoint({
  action: 'access.sources',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeAccessSource(tx, ctx, account.id, input.id)),
});
