import { TRACKER_LIST } from '../../../../core/websites/trackers/tracker-list.ts';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { listCsv } from '../../../../server/lists/list-source.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { listPurposes } from '../../../../server/websites/notices/purposes.ts';
import { listTrackers, trackerCells } from '../../../../server/websites/trackers/trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend(listShape(TRACKER_LIST)),
  object: siteObject,
  run: async ({ ctx, account, input, outgoing }) => {
    const purposes = await listPurposes(ctx.store);
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const lines = listCsv(TRACKER_LIST, trackerCells(purposes), (after) =>
      listTrackers(ctx.store, input.host, input, after, 500),
    );
    return streamed('trackers.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
