import { z } from 'zod';
import { KnownTracker } from '../../../../core/websites/trackers/known-tracker.ts';
import { KNOWN_TRACKER_LIST } from '../../../../core/websites/trackers/known-tracker-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { addKnown, listKnown } from '../../../../server/websites/library/known-trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object(pageShape(KNOWN_TRACKER_LIST)),
  run: ({ ctx, input }) => listKnown(ctx.store, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: KnownTracker,
  object: whole('known tracker', ['site']),
  run: ({ ctx, account, input }) => addKnown(ctx, account.id, input),
});
