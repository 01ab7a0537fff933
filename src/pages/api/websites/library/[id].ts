import { z } from 'zod';
import { KnownTracker } from '../../../../core/websites/trackers/known-tracker.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { editKnown, findKnown, removeKnown } from '../../../../server/websites/library/known-trackers.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'websites.read',
  input: Id,
  run: ({ ctx, input }) => findKnown(ctx.store, input.id),
});

export const PUT = endpoint({
  action: 'websites.edit',
  input: Id.extend({ revision: z.int().positive(), entry: KnownTracker }),
  object: whole('known tracker', ['site']),
  run: ({ ctx, account, input }) => editKnown(ctx, account.id, input.id, input.revision, input.entry),
});

export const DELETE = endpoint({
  action: 'websites.edit',
  input: Id,
  object: whole('known tracker', ['site']),
  run: async ({ ctx, account, input }) => ({ removed: await removeKnown(ctx, account.id, input.id) }),
});
