import { z } from 'zod';
import { listMeasures } from '../../../../server/obligations/work/measure-view.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: ({ ctx }) => listMeasures(ctx),
});
