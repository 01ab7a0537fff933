import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  deleteEvidence,
  giveBack,
  openEvidence,
} from '../../../../../server/protection/evidence/evidence.ts';

const WITH_REASON = z.object({
  id: z.coerce.number().int().min(1),
  reason: z.string().trim().min(1, 'Say why.').max(400),
});

/** Opens it: what was kept, in clear. The reason stands in the ledger. */
export const POST = endpoint({
  action: 'protection.evidence',
  input: WITH_REASON,
  run: ({ ctx, account, input }) => openEvidence(ctx, account, input.id, input.reason),
});

/** Has a file put back where it was. */
export const PUT = endpoint({
  action: 'protection.evidence',
  input: WITH_REASON,
  run: ({ ctx, account, input }) => giveBack(ctx, account, input.id, input.reason),
});

export const DELETE = endpoint({
  action: 'protection.evidence',
  input: WITH_REASON,
  run: ({ ctx, account, input }) => deleteEvidence(ctx, account, input.id, input.reason),
});
