import { z } from 'zod';
import { KnownTracker } from '../../../../core/websites/trackers/known-tracker.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { PageSize } from '../../../../server/store/page.ts';
import { addKnown, listKnown } from '../../../../server/websites/library/known-trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({
    text: z.string().max(100).default(''),
    after: z.string().max(900).optional(),
    size: PageSize,
  }),
  run: ({ ctx, input }) => listKnown(ctx.store, input.text, input.after, input.size),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: KnownTracker,
  object: whole('known tracker', ['site']),
  run: ({ ctx, account, input }) => addKnown(ctx, account.id, input),
});
