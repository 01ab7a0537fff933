import { z } from 'zod';
import { NewRequest, requestNumber } from '../../../core/cases/requests/request.ts';
import { takeRequest } from '../../../server/cases/requests/take-in.ts';
import { parseJson } from '../../../server/http/read-limited.ts';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';

/** Hands in a request that came another way; what is sent twice under one key is taken once. */
export const POST = programEndpoint({
  scope: 'requests',
  input: z.object({ key: z.string().trim().min(1).max(60), confirm: z.enum(['yes', 'no']).default('no') }),
  run: async ({ ctx, program, input, body }) => {
    const request = NewRequest.parse(parseJson(Buffer.from(body)));
    return ctx.store.transaction(async (tx) => {
      const { id, isNew } = await takeRequest(tx, ctx, request, {
        ...{
          way: 'interface',
          by: 'system',
          sentKey: `${program.id} ${input.key}`,
          confirm: input.confirm === 'yes',
        },
      });
      return { number: requestNumber(id), taken: isNew };
    });
  },
});
