import { z } from 'zod';
import { RefusedError } from '../../../../core/refusal.ts';
import { findMember } from '../../../../server/accounts/staff/staff.ts';
import { programEndpoint } from '../../../../server/http/program-endpoint.ts';
import { openProposals } from '../../../../server/protection/proposals/proposals.ts';

/** What somebody is asked about what they own. */
export const GET = programEndpoint({
  scope: 'levels',
  input: z.object({ person: z.string().max(254) }),
  run: async ({ ctx, input }) => {
    const member = await findMember(ctx, input.person);
    if (!member) throw new RefusedError('Nobody who works here has this address.', [], 404);
    return openProposals(ctx, { staff: member.id });
  },
});
