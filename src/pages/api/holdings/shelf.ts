import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { shelfCounts } from '../../../server/holdings/shelf.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: ({ ctx, account }) => shelfCounts(ctx, account),
});
