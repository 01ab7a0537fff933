import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { acceptContradiction, checkRecords } from '../../../../server/holdings/records/record-check.ts';

/** Records held against what was found everywhere, so that it is for those who may see all sources. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  object: whole('activity', ['source']),
  run: ({ ctx }) => checkRecords(ctx),
});

/** Accepts one with a reason; without one, it is open again. */
export const POST = endpoint({
  action: 'holdings.records',
  input: z.object({ key: z.string().min(1).max(300), reason: z.string().max(400).nullable() }),
  object: whole('activity', ['source']),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => acceptContradiction(tx, ctx.now(), account.id, input.key, input.reason)),
});
