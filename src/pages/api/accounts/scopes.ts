import { z } from 'zod';
import { scopeOptions } from '../../../server/desk/scope-options.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';

/** What accounts can be kept to, by kind. */
export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({}),
  object: whole('account scope'),
  run: ({ ctx }) => scopeOptions(ctx.store),
});
