import { z } from 'zod';
import { SourceAddress } from '../../../../../core/holdings/sources/source.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../../server/http/shares.ts';
import { queueRemoval } from '../../../../../server/holdings/sources/remove-source.ts';
import { moveSource, sourceObject, viewSource } from '../../../../../server/holdings/sources/sources.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'holdings.read',
  input: Id,
  object: sourceObject,
  run: ({ ctx, input }) => viewSource(ctx, input.id),
});

/** Without a secret, the one it has stays. */
export const PUT = endpoint({
  action: 'holdings.sources',
  input: Id.extend({ address: SourceAddress, secret: z.string().max(2000).optional() }),
  object: sourceObject,
  run: ({ ctx, account, input }) =>
    ASKING.use(account.id, () => moveSource(ctx, account.id, input.id, input.address, input.secret)),
});

/** Forgets all that is known of it; what lies there stays. */
export const DELETE = endpoint({
  action: 'holdings.sources',
  input: Id,
  object: sourceObject,
  run: ({ ctx, account, input }) => queueRemoval(ctx, account.id, input.id),
});
