import { useQuery } from '@tanstack/react-query';
import type * as websitesLibraryApi from '../../pages/api/websites/library/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { KnownPage } from '../../server/websites/library/known-trackers.ts';
import { go, useDeskLocation } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { countWords } from '../desk/words.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Shelf } from '../parts/Shelf.tsx';
import { REGIMES } from '../../core/websites/notice/regime.ts';
import type { ListedRegime } from '../../server/websites/notices/regimes.ts';
import { useMay } from '../desk/account-context.ts';
import { PERSON_LIST, STANDS } from '../../core/websites/preferences/person-list.ts';
import { LEFT_DAYS, usePreferences } from './preferences/use-preferences.ts';
import { LIBRARY, PREFERENCES_SHELF, PURPOSES_SHELF, REGIMES_SHELF, siteLink } from './links.ts';
import { useRegimes } from './regimes/use-regimes.ts';
import { usePurposes } from './library/use-purposes.ts';
import { SiteRegister, useSites } from './sites/SiteRegister.tsx';

/** The kinds of object in Websites, and a list of the one chosen. */
export function WebsitesRegister({ chosen }: { readonly chosen: string | undefined }) {
  const sites = useSites();
  const known = useQuery({
    queryKey: ['library', 'shelf'],
    queryFn: () => request<AnswerOf<typeof websitesLibraryApi.GET>>('GET', '/api/websites/library?size=1'),
  });
  const regimes = useRegimes();
  const inLibrary = chosen === LIBRARY;
  const inRegimes = chosen === REGIMES_SHELF;
  const inPreferences = chosen === PREFERENCES_SHELF;
  const mayPrefer = useMay('preferences.read');
  const stands = usePreferences(LEFT_DAYS, mayPrefer).data?.figures.stands;
  const inPurposes = chosen === PURPOSES_SHELF;
  const purposes = usePurposes();
  return (
    <>
      <Shelf
        entries={[
          {
            name: 'Sites',
            count: sites.paged.total,
            href: '/websites',
            chosen: !inLibrary && !inRegimes && !inPurposes && !inPreferences,
          },
          {
            name: 'Purposes',
            count: purposes.data?.length,
            href: siteLink(PURPOSES_SHELF),
            chosen: inPurposes,
          },
          {
            name: 'Known trackers',
            count: known.data?.all,
            href: siteLink(LIBRARY),
            chosen: inLibrary,
          },
          {
            name: 'Regimes',
            count: regimes.data?.length,
            href: siteLink(REGIMES_SHELF),
            chosen: inRegimes,
          },
          ...(mayPrefer
            ? [
                {
                  name: 'Preferences',
                  count: stands && Object.values(stands).reduce((n, s) => n + s, 0),
                  href: siteLink(PREFERENCES_SHELF),
                  chosen: inPreferences,
                },
              ]
            : []),
        ]}
      />
      {inLibrary ? (
        <LibraryRegister page={known.data} />
      ) : inRegimes ? (
        <RegimeRegister rows={regimes.data ?? []} />
      ) : inPreferences ? (
        <PeopleRegister />
      ) : (
        <SiteRegister chosen={chosen} />
      )}
    </>
  );
}

/** Regions by what their law asks. */
function RegimeRegister({ rows }: { readonly rows: readonly ListedRegime[] }) {
  const { query } = useDeskLocation();
  const kinds = [
    { id: '', name: 'All of them', n: rows.length },
    ...REGIMES.map((r) => ({
      id: r as string,
      name: r as string,
      n: rows.filter((x) => x.regime === r).length,
    })),
  ];
  return (
    <RegisterList
      what="regimes"
      rows={kinds.map(({ id, name, n }) => ({
        id,
        name,
        detail: countWords(n, 'region'),
        href: siteLink(REGIMES_SHELF) + (id === '' ? '' : `?regime=${encodeURIComponent(id)}`),
      }))}
      chosen={query.get('regime') ?? ''}
      onChoose={(r) => go(r.href)}
      empty="No region is told."
    />
  );
}

/** Known trackers by what they are for. */
function LibraryRegister({ page }: { readonly page: KnownPage | undefined }) {
  const { query } = useDeskLocation();
  const purposes = usePurposes().data ?? [];
  const rows = [
    { id: '', name: 'All of them', n: page?.all ?? 0 },
    ...(page?.purposes ?? []).map(({ value, count }) => ({
      id: String(value),
      name: purposes.find((p) => p.code === value)?.name ?? String(value),
      n: count,
    })),
  ];
  return (
    <RegisterList
      what="purposes"
      rows={rows.map(({ id, name, n }) => ({
        id,
        name,
        detail: countWords(n, 'known tracker'),
        href: siteLink(LIBRARY) + (id === '' ? '' : `?purpose=${encodeURIComponent(id)}`),
      }))}
      chosen={query.get('purpose') ?? ''}
      onChoose={(r) => go(r.href)}
      empty="The library is empty."
    />
  );
}

/** People by how they stand. */
function PeopleRegister() {
  const { query } = useDeskLocation();
  const stands = usePreferences().data?.figures.stands;
  const count = (of: readonly (typeof STANDS)[number][]) => of.reduce((n, s) => n + (stands?.[s] ?? 0), 0);
  const rows = [
    { id: '', name: 'All of them', n: count(STANDS) },
    ...STANDS.map((s) => ({ id: s as string, name: PERSON_LIST.filters.stands.options[s], n: count([s]) })),
  ];
  return (
    <RegisterList
      what="ways people stand"
      rows={rows.map(({ id, name, n }) => ({
        id,
        name,
        detail: countWords(n, 'person', 'people'),
        href: siteLink(PREFERENCES_SHELF) + (id === '' ? '' : `?stands=${encodeURIComponent(id)}`),
      }))}
      chosen={query.get('stands') ?? ''}
      onChoose={(r) => go(r.href)}
      empty="Nobody is known."
    />
  );
}
