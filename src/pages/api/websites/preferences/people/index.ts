import { z } from 'zod';
import { PERSON_LIST } from '../../../../../core/websites/preferences/person-list.ts';
import { NewPerson } from '../../../../../core/websites/preferences/person-table.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { pageShape } from '../../../../../server/lists/list-source.ts';
import { addPerson, listPeople } from '../../../../../server/websites/preferences/people.ts';

export const GET = endpoint({
  action: 'preferences.read',
  input: z.object(pageShape(PERSON_LIST)),
  object: whole('person', ['site']),
  run: ({ ctx, input }) => listPeople(ctx.store, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'preferences.edit',
  input: NewPerson,
  object: whole('person', ['site']),
  run: ({ ctx, account, input }) => addPerson(ctx, account.id, input),
});
