import { z } from 'zod';
import { verifyEntry } from '../../../core/evidence/ledger.ts';
import { notFound } from '../../../core/refusal.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { findEntry, proveEntry } from '../../../server/evidence/ledger.ts';

export const GET = endpoint({
  action: 'ledger.read',
  input: z.object({ id: z.string().regex(/^\d{1,19}$/, 'an entry’s number') }),
  object: whole('ledger'),
  run: async ({ ctx, input }) => {
    const entry = await findEntry(ctx.store, input.id);
    if (!entry) throw notFound('ledger entry');
    const proof = await proveEntry(ctx.store, input.id);
    return { entry, proof: proof ?? null, verified: proof ? verifyEntry(proof) : null };
  },
});
