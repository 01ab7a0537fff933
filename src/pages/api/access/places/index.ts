import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { askAccess } from '../../../../server/access/index/ask-access.ts';
import { Key, On } from '../../../../server/access/inputs.ts';

/** What lies right below a place, or the tops of all; as somebody sees it, where they are named. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ key: Key.optional(), person: Key.optional(), on: On }),
  object: whole('estate'),
  run: ({ ctx, input }) =>
    askAccess(ctx, 'below', { key: input.key ?? null, person: input.person }, input.on),
});
