import { z } from 'zod';
import { ActivityContent } from '../../../../core/holdings/records/activity.ts';
import { ACTIVITY_LIST } from '../../../../core/holdings/records/activity-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addActivity, listActivities } from '../../../../server/holdings/records/activities.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object(pageShape(ACTIVITY_LIST)),
  run: ({ ctx, input }) => listActivities(ctx, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'holdings.records',
  input: ActivityContent,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addActivity(tx, ctx.now(), account.id, input)),
  }),
});
