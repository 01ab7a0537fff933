import { z } from 'zod';
import { removeHandsRule } from '../../../../server/access/hands/hands-rules.ts';
import { RowId } from '../../../../server/access/inputs.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

export const DELETE = endpoint({
  action: 'access.change',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, account, input }) => removeHandsRule(ctx, account.id, input.id),
});
