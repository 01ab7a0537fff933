import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { READING } from '../../../../server/http/shares.ts';
import { sightTable } from '../../../../server/holdings/detection/detectors/open-detector.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) => READING.use(account.id, () => sightTable(ctx, account.id, input.upload)),
});
