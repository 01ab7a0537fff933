import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { accessShelf } from '../../../server/access/shelf.ts';

/** How many there are of each kind of object. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => accessShelf(ctx),
});
