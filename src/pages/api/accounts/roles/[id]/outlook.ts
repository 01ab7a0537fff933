import { z } from 'zod';
import { roleOutlook } from '../../../../../server/desk/role-outlook.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Who holds a role, what they use of it, what it contains, and what else it takes. */
export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({ id: z.string().max(40) }),
  object: (_ctx, { id }) => ({ kind: 'role', id }),
  run: ({ ctx, input }) => roleOutlook(ctx, input.id),
});
