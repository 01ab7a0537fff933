import type * as consentsApi from '../../../pages/api/websites/[host]/consents/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type * as countsApi from '../../../pages/api/websites/[host]/consents/counts.ts';
import type * as logApi from '../../../pages/api/websites/consent-log.ts';
import { useQuery } from '@tanstack/react-query';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Slot } from '../../parts/Slot.tsx';
import { CONSENT_LIST, NOT_TOLD, pagesAt } from '../../../core/websites/consents/consent-list.ts';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
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
      request<AnswerOf<typeof countsApi.GET>>('GET', `${path}/counts${queryString({ ...list.asked })}`),
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
    {
      ...{ key: 'language', title: 'Language', optional: true, hidden: true },
      cell: (r) => languageName(r.language),
    },
    { key: 'device', title: 'Device', optional: true, hidden: true, cell: (r) => r.device || 'not told' },
    { key: 'page', title: 'Page', optional: true, hidden: true, cell: (r) => <code>{pagesAt(r.page)}</code> },
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
        {first.data ? totalWords(first.data.total ?? 0) : '…'}
        {list.narrowed && ' match'}
        {mayExport && (
          <>
            {' · '}
            <a href={list.exportHref(`/api${siteLink(site.host)}/consents.jsonl`)} download>
              JSON Lines, fields of ISO/IEC TS 27560
            </a>
          </>
        )}
        {' · '}
        <LogMonths />
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
              language: Object.keys(facets?.language ?? {}),
              device: Object.keys(facets?.device ?? {}),
              page: Object.keys(facets?.page ?? {}),
            }}
            names={{
              region: regionName,
              version: (v) => `Version ${v}`,
              language: languageName,
              device: deviceWords,
            }}
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

const deviceWords = (device: string) => (device === NOT_TOLD ? 'not told' : device);

/** Beyond what is counted it is only known that there are more. */
function totalWords(total: number): string {
  return total > MOST_COUNTED
    ? `more than ${countWords(MOST_COUNTED, 'choice')}`
    : countWords(total, 'choice');
}

/** As the server counts. */
const MOST_COUNTED = 100_000;

/** How long choices stay on record, at all sites. */
function LogMonths() {
  const fixed = !useMay('websites.put-in-force');
  const log = useQuery({
    queryKey: ['consent-log'],
    queryFn: () => request<AnswerOf<typeof logApi.GET>>('GET', '/api/websites/consent-log'),
  });
  if (!log.data) return null;
  const { months } = log.data;
  const put = async (next: number | null) => {
    try {
      await request('PUT', '/api/websites/consent-log', { months: next, saw: months });
      const undo = async () =>
        void (await request('PUT', '/api/websites/consent-log', { months, saw: next }));
      tell('Older choices leave within the hour; the ledger keeps their digests.', { undo });
    } catch (e) {
      tellFailure(e);
    } finally {
      await log.refetch();
    }
  };
  return (
    <>
      kept{' '}
      <Slot
        label="How long choices are on record"
        words={months === null ? 'for ever' : countWords(months, 'month')}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: String(months ?? ''),
          options: ['', '13', '24', '36', '60', '120'].map((m) => ({
            value: m,
            words: m === '' ? 'for ever' : countWords(Number(m), 'month'),
          })),
          set: (m) => void put(m === '' ? null : Number(m)),
        }}
      />
    </>
  );
}
