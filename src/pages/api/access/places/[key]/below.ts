import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { askAccess } from '../../../../../server/access/index/ask-access.ts';
import { After, Key, On } from '../../../../../server/access/inputs.ts';

/** Places below with something of their own. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ key: Key, on: On, after: After }),
  object: whole('estate'),
  run: async ({ ctx, input }) => {
    const { rows, next } = await askAccess(
      ctx,
      'differing',
      { key: input.key, from: input.after, size: 100 },
      input.on,
    );
    return { rows, next: next === null ? null : String(next) };
  },
});
