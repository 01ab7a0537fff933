import { z } from 'zod';
import { peopleWho } from '../../../../server/accounts/account-names.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Whom a task can be handed on to. */
export const GET = endpoint({
  action: 'cases.task',
  input: z.object({}),
  run: async ({ ctx }) =>
    (await peopleWho(ctx.store, 'cases.task')).filter((p) => p.able).map(({ id, name }) => ({ id, name })),
});
