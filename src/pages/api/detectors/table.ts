import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { sightTable } from '../../../server/holdings/open-detector.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) => sightTable(ctx, account.id, input.upload),
});
