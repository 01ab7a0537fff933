import { CONSENT_LIST } from '../../core/websites/consents/consent-list.ts';
import { TRACKER_LIST } from '../../core/websites/trackers/tracker-list.ts';
import type { Context } from '../context.ts';
import { listReportable, type Reportable } from '../reports/reportable.ts';
import { consentCells, listConsents } from './consents/consents.ts';
import { listPurposes } from './notices/purposes.ts';
import { siteHosts } from './sites/sites.ts';
import { listTrackers, trackerCells } from './trackers/trackers.ts';

/** What is listed site by site, of all sites, each row with its site. */
function ofAllSites(of: (host: string) => Reportable): Reportable {
  const words = of('');
  return {
    ...words,
    async *rows(ctx: Context, account, asked) {
      let isFirst = true;
      for (const host of await siteHosts(ctx.store)) {
        let isHead = true;
        for await (const row of of(host).rows(ctx, account, asked)) {
          if (!isHead) yield [host, ...row];
          else if (isFirst) yield ['Site', ...row];
          isHead = false;
        }
        isFirst = false;
      }
      if (isFirst) yield ['Site'];
    },
  };
}

export const WEBSITE_REPORTS: readonly Reportable[] = [
  ofAllSites((host) =>
    listReportable(
      { id: 'websites.trackers', name: 'Trackers of all sites', see: 'websites.read' },
      TRACKER_LIST,
      async ({ store }) => ({
        cells: trackerCells(await listPurposes(store)),
        load: (wish, after, size) => listTrackers(store, host, wish, after, size),
      }),
    ),
  ),
  ofAllSites((host) =>
    listReportable(
      { id: 'websites.consents', name: 'Consent records of all sites', see: 'consent.read' },
      CONSENT_LIST,
      ({ store }) =>
        Promise.resolve({
          cells: consentCells,
          load: (wish, after, size) => listConsents(store, host, wish, after, size),
        }),
    ),
  ),
];
