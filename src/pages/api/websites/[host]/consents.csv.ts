import { listShape } from '../../../../core/lists/list-shape.ts';
import { CONSENT_LIST } from '../../../../core/websites/consents/consent-list.ts';
import { record } from '../../../../server/evidence/ledger.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { listCsv } from '../../../../server/lists/list-source.ts';
import { consentCells, listConsents } from '../../../../server/websites/consents/consents.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';
import { findSite } from '../../../../server/websites/sites/sites.ts';

export const GET = endpoint({
  action: 'consent.export',
  input: HostInput.extend(listShape(CONSENT_LIST)),
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
    const lines = listCsv(CONSENT_LIST, consentCells, (after) =>
      listConsents(ctx.store, input.host, input, after, 500),
    );
    return streamed('consent-records.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
