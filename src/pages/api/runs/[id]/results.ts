import { z } from 'zod';
import { runObject } from '../../../../server/desk/run-kinds.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { listResults } from '../../../../server/runs/run-store.ts';
import { PageSize } from '../../../../server/store/page.ts';

export const GET = endpoint({
  action: 'jobs.read',
  input: z.object({
    id: z.string().regex(/^\d{1,18}$/, 'a number'),
    after: z.string().max(500).optional(),
    size: PageSize,
  }),
  object: runObject,
  run: ({ ctx, input: { id, after, size } }) => listResults(ctx.store, id, after, size),
});
