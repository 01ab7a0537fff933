import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { listDisposals } from '../../../../server/retention/disposal/disposals.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  object: whole('disposal'),
  run: ({ ctx }) => listDisposals(ctx.store),
});
