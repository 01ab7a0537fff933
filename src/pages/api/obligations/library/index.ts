import { z } from 'zod';
import { listFrameworks } from '../../../../server/obligations/library/library-view.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: ({ ctx }) => listFrameworks(ctx),
});
