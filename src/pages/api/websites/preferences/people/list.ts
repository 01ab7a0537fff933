import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { takePeople } from '../../../../../server/websites/preferences/people.ts';

/** Takes a list that was sent before. */
export const POST = endpoint({
  action: 'preferences.edit',
  input: z.object({ upload: z.int().positive() }),
  object: whole('person', ['site']),
  run: ({ ctx, account, input }) => READING.use(account.id, () => takePeople(ctx, account.id, input.upload)),
});
