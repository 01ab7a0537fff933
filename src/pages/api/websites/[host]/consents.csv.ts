import { regionName } from '../../../../core/websites/notice/region.ts';
import { csvLine, streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { ConsentFilter, listConsents } from '../../../../server/websites/consents/consents.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';
import { record } from '../../../../server/evidence/ledger.ts';
import { everyRow } from '../../../../server/store/page.ts';
import type { Queries } from '../../../../server/store/pool.ts';

export const GET = endpoint({
  action: 'consent.export',
  input: HostInput.extend(ConsentFilter.shape),
  object: siteObject,
  run: async ({ ctx, account, input, outgoing }) => {
    const site = await findSite(ctx.store, input.host);
    outgoing.whenOver(await EXPORTING.begin(account.id));
    const { host: _host, ...filter } = input;
    await ctx.store.transaction((tx) =>
      record(tx, ctx.now(), {
        actor: account.id,
        action: 'consent.export',
        object: 'site',
        objectId: site.id,
        detail: { filter: JSON.stringify(filter) },
      }),
    );
    return streamed(
      'consent-records.csv',
      'text/csv; charset=utf-8',
      outgoing,
      lines(ctx.store, input.host, input),
    );
  },
});

async function* lines(store: Queries, host: string, filter: ConsentFilter): AsyncGenerator<string> {
  yield csvLine([
    'Receipt',
    'Time (UTC)',
    'Choice',
    'Act',
    'Allowed',
    'Asked',
    'Notice version',
    'Region',
    'Region name',
    'Language',
    'Address (truncated)',
    'Visitor key',
    'Ledger entry',
  ]);
  for await (const r of everyRow((after) => listConsents(store, host, filter, after, 500)))
    yield csvLine([
      r.id,
      r.at,
      r.choice,
      r.act,
      r.allowed.join(' '),
      r.asked.join(' '),
      r.version,
      r.region,
      regionName(r.region),
      r.language,
      r.address,
      r.visitorKey,
      r.ledgerId,
    ]);
}
