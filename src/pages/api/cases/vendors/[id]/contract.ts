import { z } from 'zod';
import { readContract } from '../../../../../server/cases/vendors/contract.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Reads a contract that was sent, and proposes which clauses it has. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ id: z.coerce.number().int().min(1), upload: z.int().min(1) }),
  run: ({ ctx, account, input }) => readContract(ctx, account, input.id, input.upload),
});
