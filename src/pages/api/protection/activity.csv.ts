import { z } from 'zod';
import { listShape } from '../../../core/lists/list-shape.ts';
import { EVENT_LIST } from '../../../core/protection/activity/event-list.ts';
import { record } from '../../../server/evidence/ledger.ts';
import { streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../server/http/shares.ts';
import { listCsv } from '../../../server/lists/list-source.ts';
import { eventCells, listEvents } from '../../../server/protection/activity/events.ts';

/** What people did is told to nobody without the ledger knowing. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object(listShape(EVENT_LIST)),
  run: async ({ ctx, account, input, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const { person, ...filter } = input as Record<string, unknown>;
    await ctx.store.transaction((tx) =>
      record(tx, ctx.now(), {
        ...{ actor: account.id, action: 'activity.export', object: 'activity', objectId: 'all' },
        detail: { filter: JSON.stringify(filter), ofOnePerson: Boolean(person) },
      }),
    );
    const lines = listCsv(EVENT_LIST, eventCells, (after) => listEvents(ctx.store, input, after, 500));
    return streamed('activity.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
