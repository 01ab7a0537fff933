import { setQuery } from '../desk/location.ts';

/** Stands where a site's host would; no host is called so. */
export const LIBRARY = 'library';
export const REGIMES_SHELF = 'regimes';
export const PURPOSES_SHELF = 'purposes';
export const PREFERENCES_SHELF = 'preferences';
/** Shelves whose sheet has no soundings of a site beside it. */
export const WHOLE_SHELVES: readonly string[] = [REGIMES_SHELF, PURPOSES_SHELF];

export const SITE_TABS = [
  'trackers',
  'notice',
  'tags',
  'visits',
  'install',
  'consents',
  'rates',
  'statement',
  'sweeps',
] as const;
export type SiteTab = (typeof SITE_TABS)[number];

/** What was opened in another tab closes with it. */
export function openTab(tab: SiteTab): void {
  setQuery(
    {
      tab: tab === 'trackers' ? null : tab,
      tracker: null,
      record: null,
      sweep: null,
      against: null,
      event: null,
    },
    'push',
  );
}

export const TAB_NAMES: Readonly<Record<SiteTab, string>> = {
  trackers: 'Trackers',
  notice: 'Notice',
  tags: 'Tags',
  visits: 'Visits',
  install: 'Install',
  consents: 'Consent records',
  rates: 'Rates',
  statement: 'Statement',
  sweeps: 'Sweeps',
};

export function siteLink(host: string): string {
  return `/websites/${encodeURIComponent(host)}`;
}
