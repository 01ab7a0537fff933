import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { After, PeopleInput } from '../../../../server/access/inputs.ts';
import { pageOfPrincipals } from '../../../../server/access/people-pages.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ ...PeopleInput, after: After }),
  object: whole('estate'),
  run: ({ ctx, input }) => pageOfPrincipals(ctx, input),
});
