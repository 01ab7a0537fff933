import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { listSteps } from '../../../../../server/access/change/view-change.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { PageSize } from '../../../../../server/store/page.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId, after: z.string().max(200).optional(), size: PageSize }),
  object: whole('estate'),
  run: ({ ctx, input }) => listSteps(ctx.store, input.id, input.after, input.size),
});
