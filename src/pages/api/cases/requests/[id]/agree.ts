import { z } from 'zod';
import { agree } from '../../../../../server/cases/requests/act-on-request.ts';
import { RequestId, viewRequest } from '../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Agrees to what is deleted or put right, and has it carried out. */
export const POST = endpoint({
  action: 'cases.carry-out',
  byPeople: true,
  input: z.object({ id: RequestId }),
  run: async ({ ctx, account, input: { id } }) => {
    await agree(ctx, account, id);
    return viewRequest(ctx, account, id);
  },
});
