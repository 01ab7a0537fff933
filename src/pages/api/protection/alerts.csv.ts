import { z } from 'zod';
import { listShape } from '../../../core/lists/list-shape.ts';
import { ALERT_LIST } from '../../../core/protection/alerts/alert-list.ts';
import { record } from '../../../server/evidence/ledger.ts';
import { streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../server/http/shares.ts';
import { listCsv } from '../../../server/lists/list-source.ts';
import { alertCells, listAlerts } from '../../../server/protection/alerts/alerts.ts';

/** Whose acts raised what is told to nobody without the ledger knowing. */
export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object(listShape(ALERT_LIST)),
  run: async ({ ctx, account, input, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const { key, ...filter } = input as Record<string, unknown>;
    await ctx.store.transaction((tx) =>
      record(tx, ctx.now(), {
        ...{ actor: account.id, action: 'alert.export', object: 'alert', objectId: 'all' },
        detail: { filter: JSON.stringify(filter), ofOnePerson: Boolean(key) },
      }),
    );
    const lines = listCsv(ALERT_LIST, alertCells, (after) => listAlerts(ctx.store, input, after, 500));
    return streamed('alerts.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
