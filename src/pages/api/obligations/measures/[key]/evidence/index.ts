import { z } from 'zod';
import { addEvidence } from '../../../../../../server/obligations/work/evidence.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

/** Adds a file that was sent before. */
export const POST = endpoint({
  action: 'obligations.work',
  input: z.object({
    key: z.string().max(100),
    upload: z.int().positive('Choose a file.'),
    until: z.iso.date().nullable(),
  }),
  object: (_ctx, { key }) => ({ kind: 'measure work', id: key }),
  run: async ({ ctx, account, input }) => ({ id: await addEvidence(ctx, account.id, input.key, input) }),
});
