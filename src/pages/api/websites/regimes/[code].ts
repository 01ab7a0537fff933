import { z } from 'zod';
import { RegimeRow } from '../../../../core/websites/notice/regime.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { takeBackRegime } from '../../../../server/websites/notices/regimes.ts';

export const DELETE = endpoint({
  action: 'websites.edit',
  input: z.object({ code: RegimeRow.shape.code, revision: z.int().positive() }),
  object: whole('regime', ['site']),
  run: ({ ctx, account, input }) => takeBackRegime(ctx, account.id, input.code, input.revision),
});
