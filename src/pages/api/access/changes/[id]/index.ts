import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { viewChange } from '../../../../../server/access/change/view-change.ts';
import { RowId } from '../../../../../server/access/inputs.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, input }) => viewChange(ctx, input.id),
});
