import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { askAccess } from '../../../../server/access/index/ask-access.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ text: z.string().max(100) }),
  object: whole('estate'),
  run: ({ ctx, input }) => askAccess(ctx, 'search', { text: input.text, size: 30 }),
});
