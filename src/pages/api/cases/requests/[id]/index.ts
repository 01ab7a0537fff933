import { z } from 'zod';
import { RequestAct } from '../../../../../core/cases/requests/request-act.ts';
import { actOnRequest } from '../../../../../server/cases/requests/act-on-request.ts';
import { RequestId, viewRequest } from '../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.read',
  input: z.object({ id: RequestId }),
  run: ({ ctx, account, input }) => viewRequest(ctx, account, input.id),
});

/** Does something about it; the request as it stands then. */
export const POST = endpoint({
  action: 'cases.handle',
  input: z.object({ id: RequestId, does: RequestAct }),
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnRequest(ctx, account, id, does);
    return viewRequest(ctx, account, id);
  },
});
