import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { watchNames } from '../../../../server/protection/lookouts/lookouts.ts';

/** What can be named in rules about what is kept, beside what lenses name. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({}),
  run: async ({ ctx }) => {
    const { items: _items, ...names } = await watchNames(ctx.store);
    return names;
  },
});
