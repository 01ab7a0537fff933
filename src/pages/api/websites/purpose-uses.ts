import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { purposeUses } from '../../../server/websites/notices/purpose-uses.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => purposeUses(ctx.store),
});
