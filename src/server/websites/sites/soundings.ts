import type { SweepDifference } from '../../../core/websites/sweeps/sweep-difference.ts';
import type { Context } from '../../context.ts';
import { listEntries, type ListedEntry } from '../../evidence/ledger.ts';
import { consentRates, type ConsentRates } from '../consents/consent-rates.ts';
import { findSite } from './sites.ts';
import { differenceSinceLast } from '../sweeps/sweep-end.ts';

export interface SiteSoundings {
  readonly rates: ConsentRates;
  readonly difference: { readonly since: string; readonly difference: SweepDifference } | null;
  readonly lastChanges: readonly ListedEntry[];
}

export async function siteSoundings(ctx: Context, host: string, days: number): Promise<SiteSoundings> {
  const site = await findSite(ctx.store, host);
  const [rates, difference, entries] = await Promise.all([
    consentRates(ctx, host, days),
    differenceSinceLast(ctx.store, site.id),
    listEntries(ctx.store, { object: 'notice', objectId: String(site.id) }, undefined, 4),
  ]);
  return { rates, difference: difference ?? null, lastChanges: entries.rows };
}
