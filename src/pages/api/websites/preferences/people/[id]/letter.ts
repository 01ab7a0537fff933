import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../../server/http/whole.ts';
import { writeToPerson } from '../../../../../../server/websites/preferences/people.ts';

/** Sends somebody the link of their own page. */
export const POST = endpoint({
  action: 'preferences.edit',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: whole('person', ['site']),
  run: ({ ctx, account, input }) => writeToPerson(ctx, account.id, input.id),
});
