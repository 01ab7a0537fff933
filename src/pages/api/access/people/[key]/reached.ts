import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { askAccess } from '../../../../../server/access/index/ask-access.ts';
import { After, ReachedInput } from '../../../../../server/access/inputs.ts';

/** Places that somebody reaches, with the way behind each. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ ...ReachedInput, after: After }),
  object: whole('estate'),
  run: async ({ ctx, input: { on, after, ...say } }) => {
    const { rows, next } = await askAccess(ctx, 'reached', { ...say, from: after, size: 100 }, on);
    return { rows, next: next === null ? null : String(next) };
  },
});
