import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { askAccess } from '../../../../../server/access/index/ask-access.ts';
import { Key, On } from '../../../../../server/access/inputs.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ key: Key, on: On }),
  object: whole('estate'),
  run: ({ ctx, input }) => askAccess(ctx, 'principal', { key: input.key }, input.on),
});
