import { z } from 'zod';
import { viewMeasure } from '../../../../../server/obligations/work/measure-view.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ key: z.string().max(100) }),
  object: (_ctx, { key }) => ({ kind: 'measure work', id: key }),
  run: ({ ctx, input }) => viewMeasure(ctx, input.key),
});
