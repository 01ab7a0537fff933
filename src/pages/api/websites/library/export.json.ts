import { z } from 'zod';
import { attachment } from '../../../../server/http/attachment.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { knownTrackerJson } from '../../../../server/websites/library/known-tracker-file.ts';
import { allKnown } from '../../../../server/websites/library/known-trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: async ({ ctx }) =>
    attachment('known-trackers.json', 'application/json', knownTrackerJson(await allKnown(ctx.store))),
});
