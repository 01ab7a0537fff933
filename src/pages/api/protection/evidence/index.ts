import { z } from 'zod';
import { EVIDENCE_LIST } from '../../../../core/protection/evidence/evidence-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { listEvidence } from '../../../../server/protection/evidence/evidence.ts';

export const GET = endpoint({
  action: 'protection.evidence',
  input: z.object(pageShape(EVIDENCE_LIST)),
  run: ({ ctx, input }) => listEvidence(ctx.store, input, input.after, input.size),
});
