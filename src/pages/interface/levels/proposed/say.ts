import { z } from 'zod';
import { RefusedError } from '../../../../core/refusal.ts';
import { findMember } from '../../../../server/accounts/staff/staff.ts';
import { programEndpoint } from '../../../../server/http/program-endpoint.ts';
import { sayToProposal } from '../../../../server/protection/proposals/proposals.ts';

/** What somebody says to it. */
export const POST = programEndpoint({
  scope: 'levels',
  input: z.object({
    person: z.string().max(254),
    item: z.coerce.number().int().positive(),
    rule: z.string().max(64),
    agree: z.enum(['yes', 'no']),
    reason: z.string().trim().max(400).default(''),
  }),
  run: async ({ ctx, input: { person, agree, ...said } }) => {
    const member = await findMember(ctx, person);
    if (!member) throw new RefusedError('Nobody who works here has this address.', [], 404);
    return sayToProposal(ctx, { staff: member.id }, { ...said, agree: agree === 'yes' });
  },
});
