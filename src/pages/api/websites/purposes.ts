import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { listPurposes } from '../../../server/websites/notices/purposes.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => listPurposes(ctx.store),
});
