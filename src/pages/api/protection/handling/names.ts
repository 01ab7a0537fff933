import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { handlingNames } from '../../../../server/protection/handling/handling-rules.ts';

/** What can be named in handling rules, beside what lenses name. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: async ({ ctx }) => {
    const { items: _items, ...names } = await handlingNames(ctx.store);
    return names;
  },
});
