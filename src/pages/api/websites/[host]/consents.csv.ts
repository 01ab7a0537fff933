import { listShape } from '../../../../core/lists/list-shape.ts';
import { CONSENT_LIST } from '../../../../core/websites/consents/consent-list.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { listCsv } from '../../../../server/lists/list-source.ts';
import { consentCells, listConsents } from '../../../../server/websites/consents/consents.ts';
import { beginExport } from '../../../../server/websites/consents/export-consents.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'consent.export',
  input: HostInput.extend(listShape(CONSENT_LIST)),
  object: siteObject,
  run: async ({ ctx, account, input, outgoing }) => {
    await beginExport(ctx, account.id, input, outgoing, 'CSV');
    const lines = listCsv(CONSENT_LIST, consentCells, (after) =>
      listConsents(ctx.store, input.host, input, after, 500),
    );
    return streamed('consent-records.csv', 'text/csv; charset=utf-8', outgoing, lines);
  },
});
