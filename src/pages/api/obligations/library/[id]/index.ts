import { z } from 'zod';
import { viewFramework } from '../../../../../server/obligations/library/library-view.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({
    id: z.string().max(80),
    version: z.iso.date().optional(),
    beside: z.string().max(80).optional(),
  }),
  run: ({ ctx, input }) => viewFramework(ctx, input.id, input),
});
