import type * as consentsApi from '../../../pages/api/websites/[host]/consents/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import { CONSENT_LIST } from '../../../core/websites/consents/consent-list.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import type { ConsentRecord } from '../../../server/websites/consents/consent-record.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

export function ConsentsTab({ site }: { readonly site: SiteDetail }) {
  const { query } = useDeskLocation();
  const mayExport = useMay('consent.export');
  const list = useList(CONSENT_LIST);
  const path = `/api${siteLink(site.host)}/consents`;
  const first = useQuery({
    queryKey: ['consents-first', site.host, list.asked],
    queryFn: () =>
      request<AnswerOf<typeof consentsApi.GET>>('GET', `${path}${queryString({ ...list.asked, size: 1 })}`),
    placeholderData: (b) => b,
  });
  const facets = first.data?.facets;
  const columns: readonly Column<ConsentRecord>[] = [
    { key: 'at', title: 'Time', width: '128px', cell: (r) => <time dateTime={r.at}>{whenWords(r.at)}</time> },
    { key: 'choice', title: 'Choice', cell: (r) => <b className={css['choice']}>{r.choice}</b> },
    { key: 'act', title: 'Act', optional: true, hidden: true, cell: (r) => r.act },
    {
      key: 'allowed',
      title: 'Allowed',
      optional: true,
      cell: (r) =>
        r.choice === 'allowed some'
          ? r.allowed.map((p) => purposeName(site.purposes, p)).join(', ')
          : r.choice === 'allowed all'
            ? 'all'
            : '–',
    },
    { key: 'region', title: 'Region', cell: (r) => regionName(r.region) },
    { key: 'version', title: 'Notice', align: 'right', cell: (r) => r.version },
    { key: 'address', title: 'Address', optional: true, cell: (r) => <code>{r.address}</code> },
    {
      key: 'visitor',
      title: 'Visitor key',
      optional: true,
      hidden: true,
      cell: (r) => <code>{r.visitorKey.slice(0, 8)}…</code>,
    },
  ];
  return (
    <>
      <p role="status" className={css['dim']}>
        {first.data ? countWords(first.data.total ?? 0, 'choice') : '…'}
        {list.narrowed && ' match'}
      </p>
      <DataTable
        label="Consent records"
        name="consents"
        columns={columns}
        queryKey={['consents', site.host, list.asked]}
        load={(after) =>
          request<AnswerOf<typeof consentsApi.GET>>('GET', `${path}${queryString({ ...list.asked, after })}`)
        }
        rowKey={(r) => r.id}
        rowName={(r) => `${r.choice}, ${whenWords(r.at)}, ${regionName(r.region)}`}
        opened={query.get('record') ?? undefined}
        onOpen={(r) => setQuery({ record: r.id }, 'push')}
        exportHref={mayExport ? list.exportHref(`/api${siteLink(site.host)}/consents.csv`) : undefined}
        filters={
          <ListFilters
            list={CONSENT_LIST}
            shown={list}
            values={{
              region: Object.keys(facets?.region ?? {}),
              version: Object.keys(facets?.version ?? {}).toSorted((a, b) => Number(b) - Number(a)),
            }}
            names={{ region: regionName, version: (v) => `Version ${v}` }}
            counts={facets ?? {}}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'No choice matches' : 'No choice is on record yet'}>
            {list.narrowed
              ? 'Widen the filter.'
              : 'Put the notice in force and install its line. The first visitor’s choice shows here within seconds.'}
          </Empty>
        }
      />
    </>
  );
}
