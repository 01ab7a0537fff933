import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { beginUpload, MOST_UPLOAD } from '../../../server/files/uploads.ts';

export const POST = endpoint({
  action: 'files.upload',
  input: z.object({
    name: z.string().min(1).max(260),
    size: z
      .int()
      .min(1, 'The file is empty')
      .max(MOST_UPLOAD, `At most ${MOST_UPLOAD / 1e6} MB; take the columns that are not needed out of it`),
  }),
  run: ({ ctx, account, input }) => beginUpload(ctx, account.id, input.name, input.size),
});
