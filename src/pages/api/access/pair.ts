import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { askAccess } from '../../../server/access/index/ask-access.ts';
import { Key, On } from '../../../server/access/inputs.ts';

/** How one person comes to a place, or does not. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ person: Key, place: Key, on: On }),
  object: whole('estate'),
  run: ({ ctx, input }) => askAccess(ctx, 'pair', { person: input.person, place: input.place }, input.on),
});
