import { z } from 'zod';
import { TRACKER_LIST } from '../../../../../core/websites/trackers/tracker-list.ts';
import { pageShape } from '../../../../../server/lists/list-source.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { HostInput, siteObject } from '../../../../../server/websites/sites/host-input.ts';
import { listTrackers } from '../../../../../server/websites/trackers/trackers.ts';
import { decidePurpose } from '../../../../../server/websites/trackers/purpose-decisions.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend(pageShape(TRACKER_LIST)),
  object: siteObject,
  run: ({ ctx, input }) => listTrackers(ctx.store, input.host, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: HostInput.extend({
    ids: z.array(z.int().positive()).min(1, 'Select at least one tracker').max(500, 'At most 500 at once'),
    purpose: z.string().max(31).nullable(),
    because: z.string().trim().max(500, 'At most 500 characters').default(''),
    saw: z.record(z.string().max(10), z.string().max(31).nullable()).optional(),
  }),
  object: siteObject,
  run: async ({ ctx, account, input }) => ({
    before: await decidePurpose(ctx, account.id, input.host, input),
  }),
});
