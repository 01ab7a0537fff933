import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../server/holdings/offers.ts';
import { PageSize } from '../../../../server/store/page.ts';
import { openProposals, sayToProposal } from '../../../../server/protection/proposals/proposals.ts';

/** Levels that owners are asked about. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ after: z.string().max(400).optional(), size: PageSize }),
  run: async ({ ctx, account, input }) => {
    const { proposals: rows, next, total } = await openProposals(ctx, { account }, input);
    return { rows, next, total };
  },
});

/** Says for an owner that they agree, or not. */
export const POST = endpoint({
  action: 'protection.set',
  input: z.object({
    item: z.int().positive(),
    rule: z.string().max(64),
    agree: z.boolean(),
    reason: z.string().trim().max(400).default(''),
  }),
  object: (ctx, { item }) => itemObject(ctx, { id: item }),
  run: ({ ctx, account, input }) => sayToProposal(ctx, { account }, input),
});
