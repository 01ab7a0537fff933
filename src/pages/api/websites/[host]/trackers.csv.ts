import { lifetimeWords } from '../../../../core/websites/trackers/tracker.ts';
import { VISITOR_WORDS, VISITORS } from '../../../../core/websites/trackers/visitor.ts';
import { purposeName } from '../../../../core/websites/notice/purpose.ts';
import { csvLine, streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { listPurposes } from '../../../../server/websites/notices/purposes.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';
import { listTrackers, TrackerFilter } from '../../../../server/websites/trackers/trackers.ts';
import { everyRow } from '../../../../server/store/page.ts';
import type { Queries } from '../../../../server/store/pool.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend(TrackerFilter.shape),
  object: siteObject,
  run: async ({ ctx, account, input, outgoing }) => {
    await findSite(ctx.store, input.host);
    outgoing.whenOver(await EXPORTING.begin(account.id));
    return streamed('trackers.csv', 'text/csv; charset=utf-8', outgoing, lines(ctx.store, input.host, input));
  },
});

async function* lines(store: Queries, host: string, filter: TrackerFilter): AsyncGenerator<string> {
  const purposes = await listPurposes(store);
  yield csvLine([
    'Name',
    'Kind',
    'Reaches',
    'Party',
    'Purpose',
    'Decided',
    'Lives',
    'Pages',
    ...VISITORS.map((v) => VISITOR_WORDS[v]),
  ]);
  for await (const t of everyRow((after) => listTrackers(store, host, filter, after, 500)))
    yield csvLine([
      t.name,
      t.kind,
      t.host,
      t.party,
      purposeName(purposes, t.purpose),
      t.decided ? 'yes' : 'proposed',
      lifetimeWords(t, t.lifetime),
      t.pages,
      ...VISITORS.map((v) => t.verdicts[v] ?? 'not tried'),
    ]);
}
