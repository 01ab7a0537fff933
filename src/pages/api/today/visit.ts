import { z } from 'zod';
import { sinceVisit, visit } from '../../../server/desk/since-visit.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** What became other since the visit before this one. */
export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx, account }) => sinceVisit(ctx, account),
});

/** The account is here; answers when its visit before this one ended. */
export const POST = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: async ({ ctx, account }) => ({ before: await visit(ctx, account) }),
});
