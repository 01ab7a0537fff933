import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { retentionShelf } from '../../../server/retention/shelf.ts';

/** How many there are of each kind of object. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => retentionShelf(ctx),
});
