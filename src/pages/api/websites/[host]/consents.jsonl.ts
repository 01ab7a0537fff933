import { listShape } from '../../../../core/lists/list-shape.ts';
import { CONSENT_LIST } from '../../../../core/websites/consents/consent-list.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { consentLines } from '../../../../server/websites/consents/consent-lines.ts';
import { beginExport } from '../../../../server/websites/consents/export-consents.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'consent.export',
  input: HostInput.extend(listShape(CONSENT_LIST)),
  object: siteObject,
  run: async ({ ctx, account, input, outgoing }) => {
    const site = await beginExport(ctx, account.id, input, outgoing, 'JSON Lines');
    return streamed('consent-records.jsonl', 'application/jsonl', outgoing, consentLines(ctx, site, input));
  },
});
