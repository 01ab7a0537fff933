import { listShape } from '../../../../core/lists/list-shape.ts';
import { CONSENT_LIST } from '../../../../core/websites/consents/consent-list.ts';
import { record } from '../../../../server/evidence/ledger.ts';
import { streamed } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { consentLines } from '../../../../server/websites/consents/consent-lines.ts';
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
        detail: { filter: JSON.stringify(filter), format: 'JSON Lines' },
      }),
    );
    return streamed('consent-records.jsonl', 'application/jsonl', outgoing, consentLines(ctx, site, input));
  },
});
