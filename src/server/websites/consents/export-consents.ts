import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import type { Outgoing } from '../../http/outgoing.ts';
import { EXPORTING } from '../../http/shares.ts';
import { findSite, type Site } from '../sites/sites.ts';

/** Begins an export of records: one at a time for each account, and told to the ledger with its filter. */
export async function beginExport(
  ctx: Context,
  accountId: number,
  { host, ...filter }: { readonly host: string } & Readonly<Record<string, unknown>>,
  outgoing: Outgoing,
  format: 'CSV' | 'JSON Lines',
): Promise<Site> {
  const site = await findSite(ctx.store, host);
  outgoing.whenOver(await EXPORTING.begin(accountId));
  await ctx.store.transaction((tx) =>
    record(tx, ctx.now(), {
      actor: accountId,
      action: 'consent.export',
      object: 'site',
      objectId: site.id,
      detail: { filter: JSON.stringify(filter), format },
    }),
  );
  return site;
}
