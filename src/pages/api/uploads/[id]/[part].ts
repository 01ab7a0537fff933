import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { takePart } from '../../../../server/files/uploads.ts';

export const PUT = endpoint({
  action: 'files.upload',
  input: z.object({
    id: z.coerce.number().int().positive(),
    part: z.coerce.number().int().min(0).max(1000),
    base64: z.base64('Send the part in base64'),
  }),
  run: ({ ctx, account, input }) => takePart(ctx, account.id, input.id, input.part, input.base64),
});
