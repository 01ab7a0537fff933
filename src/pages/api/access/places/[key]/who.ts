import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { WhoInput } from '../../../../../server/access/inputs.ts';
import { pageOfPeople } from '../../../../../server/access/people-pages.ts';

export const GET = endpoint({
  action: 'access.read',
  input: WhoInput,
  object: whole('estate'),
  run: ({ ctx, input }) => pageOfPeople(ctx, input),
});
