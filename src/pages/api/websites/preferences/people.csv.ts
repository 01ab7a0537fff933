import { z } from 'zod';
import { PERSON_LIST } from '../../../../core/websites/preferences/person-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { peopleTable } from '../../../../server/websites/preferences/people-table.ts';

/** Those of a list as mailing tools are told of them, with the link of each. */
export const GET = endpoint({
  action: 'preferences.export',
  input: z.object(listShape(PERSON_LIST)),
  object: whole('person', ['site']),
  run: async ({ ctx, account, input, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    return streamed('people.csv', 'text/csv; charset=utf-8', outgoing, peopleTable(ctx, input));
  },
});
