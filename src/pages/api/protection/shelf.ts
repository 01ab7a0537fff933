import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { protectionShelf } from '../../../server/protection/shelf.ts';

/** How many there are of each kind of object in Protection. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx, account }) => protectionShelf(ctx, account),
});
