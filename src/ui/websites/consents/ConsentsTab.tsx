import type * as consentsApi from '../../../pages/api/websites/[host]/consents/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import { CHOICES } from '../../../core/websites/notice/consent.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import type { ConsentRecord } from '../../../server/websites/consents/consents.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { RangeField } from '../../parts/RangeField.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

const FILTERS = ['from', 'to', 'choice', 'region', 'version'] as const;

export function ConsentsTab({ site }: { readonly site: SiteDetail }) {
  const { query } = useDeskLocation();
  const mayExport = useMay('consent.export');
  const filter = Object.fromEntries(FILTERS.map((f) => [f, query.get(f) ?? undefined])) as Record<
    (typeof FILTERS)[number],
    string | undefined
  >;
  const path = `/api${siteLink(site.host)}/consents`;
  const first = useQuery({
    queryKey: ['consents-first', site.host, filter],
    queryFn: () =>
      request<AnswerOf<typeof consentsApi.GET>>('GET', `${path}${queryString({ ...filter, size: 1 })}`),
    placeholderData: (b) => b,
  });
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
  const select = (
    name: 'choice' | 'region' | 'version',
    label: string,
    options: readonly (readonly [string, string])[],
  ) => (
    <select
      aria-label={label}
      className={css['select']}
      value={filter[name] ?? ''}
      onChange={(e) => setQuery({ [name]: e.target.value })}
    >
      <option value="">{label}: any</option>
      {options.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
  const filtered = FILTERS.some((f) => filter[f]);
  return (
    <>
      <p role="status" className={css['dim']}>
        {first.data ? countWords(first.data.total ?? 0, 'choice') : '…'}
        {filtered && ' match'}
        {filtered && (
          <>
            {' · '}
            <button
              type="button"
              className={css['linkButton']}
              onClick={() => setQuery(Object.fromEntries(FILTERS.map((f) => [f, null])))}
            >
              Show all
            </button>
          </>
        )}
      </p>
      <DataTable
        label="Consent records"
        name="consents"
        columns={columns}
        queryKey={['consents', site.host, filter]}
        load={(after) =>
          request<AnswerOf<typeof consentsApi.GET>>('GET', `${path}${queryString({ ...filter, after })}`)
        }
        rowKey={(r) => r.id}
        rowName={(r) => `${r.choice}, ${whenWords(r.at)}, ${regionName(r.region)}`}
        opened={query.get('record') ?? undefined}
        onOpen={(r) => setQuery({ record: r.id }, 'push')}
        exportHref={mayExport ? `/api${siteLink(site.host)}/consents.csv${queryString(filter)}` : undefined}
        filters={
          <>
            <RangeField
              label="When"
              value={{ from: filter.from ?? '', to: filter.to ?? '' }}
              onChange={({ from, to }) => setQuery({ from: from || null, to: to || null })}
            />
            {select(
              'choice',
              'Choice',
              CHOICES.map((c) => [c, c]),
            )}
            {select(
              'region',
              'Region',
              (first.data?.facets?.regions ?? []).map((r) => [r, regionName(r)]),
            )}
            {select(
              'version',
              'Notice',
              (first.data?.facets?.versions ?? []).map((v) => [String(v), `version ${v}`]),
            )}
          </>
        }
        empty={
          <Empty title={filtered ? 'No choice matches' : 'No choice is on record yet'}>
            {filtered
              ? 'Widen the filter.'
              : 'Put the notice in force and install its line. The first visitor’s choice shows here within seconds.'}
          </Empty>
        }
      />
    </>
  );
}
