import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { askAccess } from '../../../../../server/access/index/ask-access.ts';
import { Key } from '../../../../../server/access/inputs.ts';

/** What they reach more or less than on another day. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ key: Key, with: z.iso.date(), on: z.iso.date().optional() }),
  object: whole('estate'),
  run: ({ ctx, input }) => askAccess(ctx, 'places differ', { key: input.key, with: input.with }, input.on),
});
