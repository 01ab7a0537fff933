import { useMemo } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { go, setQuery, useDeskLocation } from '../desk/location.ts';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import {
  LIBRARY,
  openTab,
  PREFERENCES_SHELF,
  PURPOSES_SHELF,
  REGIMES_SHELF,
  SITE_TABS,
  siteLink,
  TAB_NAMES,
  WHOLE_SHELVES,
} from './links.ts';
import { useSites } from './sites/SiteRegister.tsx';
import { SiteSheet } from './sites/SiteSheet.tsx';
import { SiteSoundings } from './sites/SiteSoundings.tsx';
import { lazyPart } from '../parts/lazy-part.tsx';
import { WebsitesRegister } from './WebsitesRegister.tsx';
import { TrackerSoundings } from './trackers/TrackerSoundings.tsx';

const LibrarySheet = lazyPart(
  'the library',
  async () => (await import('./library/LibrarySheet.tsx')).LibrarySheet,
);
const RegimesSheet = lazyPart(
  'the regimes',
  async () => (await import('./regimes/RegimesSheet.tsx')).RegimesSheet,
);
const PurposesSheet = lazyPart(
  'the purposes',
  async () => (await import('./purposes/PurposesSheet.tsx')).PurposesSheet,
);
const PreferencesSheet = lazyPart(
  'the preferences',
  async () => (await import('./preferences/PreferencesSheet.tsx')).PreferencesSheet,
);
const PreferenceSoundings = lazyPart(
  'how people stand',
  async () => (await import('./preferences/PreferenceSoundings.tsx')).PreferenceSoundings,
);
const LibrarySoundings = lazyPart(
  'the entry',
  async () => (await import('./library/LibrarySoundings.tsx')).LibrarySoundings,
);
const ConsentSoundings = lazyPart(
  'the record',
  async () => (await import('./consents/ConsentSoundings.tsx')).ConsentSoundings,
);
const SweepSoundings = lazyPart(
  'the sweep',
  async () => (await import('./sweeps/SweepSoundings.tsx')).SweepSoundings,
);
const VisitSoundings = lazyPart(
  'the visit',
  async () => (await import('./visits/VisitSoundings.tsx')).VisitSoundings,
);
const NewSite = lazyPart('the form', async () => (await import('./sites/NewSite.tsx')).NewSite);

export function WebsitesArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [host] = path;
  const keys = useMemo(
    () => [
      { press: 'n', does: 'Take in a new site', act: () => setQuery({ new: 'site' }, 'push') },
      ...SITE_TABS.map((tab, i) => ({
        press: String(i + 1),
        does: `Open ${TAB_NAMES[tab]}`,
        act: () => openTab(tab),
      })),
    ],
    [],
  );
  const tracker = query.get('tracker');
  const consent = query.get('record');
  const sweep = query.get('sweep');
  const soundings =
    !host || WHOLE_SHELVES.includes(host) ? undefined : host === LIBRARY ? (
      <LibrarySoundings />
    ) : host === PREFERENCES_SHELF ? (
      <PreferenceSoundings />
    ) : tracker ? (
      <TrackerSoundings key={tracker} host={host} id={tracker} />
    ) : consent ? (
      <ConsentSoundings key={consent} host={host} id={consent} />
    ) : sweep ? (
      <SweepSoundings key={sweep} host={host} id={sweep} />
    ) : query.get('tab') === 'visits' ? (
      <VisitSoundings key={host} host={host} />
    ) : (
      <SiteSoundings key={host} host={host} />
    );
  return (
    <Desk
      account={account}
      area="websites"
      keys={keys}
      register={<WebsitesRegister chosen={host} />}
      sheet={
        <>
          {host === LIBRARY ? (
            <LibrarySheet />
          ) : host === REGIMES_SHELF ? (
            <RegimesSheet />
          ) : host === PURPOSES_SHELF ? (
            <PurposesSheet />
          ) : host === PREFERENCES_SHELF ? (
            <PreferencesSheet />
          ) : host ? (
            <SiteSheet key={host} host={host} />
          ) : (
            <FirstSheet />
          )}
          {query.get('new') === 'site' && <NewSite />}
        </>
      }
      soundings={soundings}
    />
  );
}

/** With no site chosen: the first one, or what to do first. */
function FirstSheet() {
  const { query, rows } = useSites();
  if (query.isError) return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="sites" />;
  const [first] = rows;
  if (first) {
    queueMicrotask(() => go(siteLink(first.host) + window.location.search, 'replace'));
    return <Loading what={first.host} />;
  }
  return (
    <Empty title="No website is in the program yet">
      Press New and type the address of a site. A sweep then shows what runs on it, who put it there, and
      whether it may.
    </Empty>
  );
}
