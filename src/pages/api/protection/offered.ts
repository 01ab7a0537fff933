import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { explainOffered } from '../../../server/protection/publishing/published.ts';

/** What one person is offered, and why. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ person: z.string().min(1, 'Type an address.').max(254) }),
  run: ({ ctx, input }) => explainOffered(ctx, input.person),
});
