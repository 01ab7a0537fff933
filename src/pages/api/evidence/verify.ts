import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { verifyWhole } from '../../../server/evidence/verify.ts';

export const POST = endpoint({
  action: 'ledger.read',
  input: z.object({}),
  run: ({ ctx }) => verifyWhole(ctx.store, ctx.now()),
});
