import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { lookoutNames } from '../../../../server/protection/lookouts/lookouts.ts';

/** What can be named in lookouts, beside what lenses name. */
export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object({}),
  run: async ({ ctx }) => {
    const { items: _items, ...names } = await lookoutNames(ctx.store);
    return names;
  },
});
