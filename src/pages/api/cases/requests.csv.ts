import { z } from 'zod';
import { REQUEST_LIST } from '../../../core/cases/requests/request-list.ts';
import { listShape } from '../../../core/lists/list-shape.ts';
import { listRequests, requestCells } from '../../../server/cases/requests/requests.ts';
import { streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../server/http/shares.ts';
import { listCsv } from '../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'cases.read',
  input: z.object(listShape(REQUEST_LIST)),
  run: async ({ ctx, account, input, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const lines = listCsv(REQUEST_LIST, requestCells, (after) => listRequests(ctx.store, input, after, 500));
    return streamed('requests.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
