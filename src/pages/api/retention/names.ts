import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { retentionNames } from '../../../server/retention/retention-names.ts';

/** What can be named in rules, bounds and holds, besides what lenses name. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: async ({ ctx }) => {
    const { sources, groups, clocks } = await retentionNames(ctx.store);
    return { sources, groups, clocks };
  },
});
