import { z } from 'zod';
import { readProof } from '../../../../../server/cases/requests/identity/proofs.ts';
import { RequestId } from '../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** What was sent along to prove that somebody may ask. */
export const GET = endpoint({
  action: 'cases.handle',
  input: z.object({ id: RequestId, proof: z.coerce.number().int().min(1) }),
  run: ({ ctx, account, input }) => readProof(ctx, account, input.id, input.proof),
});
