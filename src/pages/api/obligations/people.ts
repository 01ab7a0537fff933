import { z } from 'zod';
import { peopleWho } from '../../../server/accounts/account-names.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** Who can own a measure or lead an assessment. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: ({ ctx }) => peopleWho(ctx.store, 'obligations.work'),
});
