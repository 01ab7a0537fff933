import { z } from 'zod';
import { RegimeRow } from '../../../../core/websites/notice/regime.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { listRegimes, sayRegime } from '../../../../server/websites/notices/regimes.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => listRegimes(ctx.store),
});

export const PUT = endpoint({
  action: 'websites.edit',
  /** `revision` of what the editor saw; 0 for what ships. */
  input: z.object({ row: RegimeRow, revision: z.int().nonnegative() }),
  object: whole('regime', ['site']),
  run: ({ ctx, account, input }) => sayRegime(ctx, account.id, input.row, input.revision),
});
