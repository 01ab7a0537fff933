import { useQuery } from '@tanstack/react-query';
import type * as ratesApi from '../../../pages/api/websites/[host]/rates.ts';
import type { Share } from '../../../core/interval.ts';
import {
  LEAST_GROUP,
  RATE_BY,
  RATE_BY_WORDS,
  type Rate,
  type RateBy,
} from '../../../core/websites/consents/rate.ts';
import { NOT_TOLD, pagesAt } from '../../../core/websites/consents/consent-list.ts';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dayWords, numberWords, percentWords } from '../../desk/words.ts';
import { IntervalChart } from '../../parts/IntervalChart.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import shared from '../websites.module.css';

const DAYS = ['7', '30', '90', '365'];

/** How visitors answer, told apart by what may matter, with intervals; nobody who did not answer counts as refusing. */
export function RatesTab({ site }: { readonly site: SiteDetail }) {
  const { query } = useDeskLocation();
  const by = RATE_BY.find((b) => b === query.get('by')) ?? 'week';
  const days = query.get('days') ?? '90';
  const of = query.get('of') ?? 'refused';
  const rates = useQuery({
    queryKey: ['rates', site.host, by, days],
    queryFn: () =>
      request<AnswerOf<typeof ratesApi.GET>>(
        'GET',
        `/api${siteLink(site.host)}/rates${queryString({ by, days })}`,
      ),
    placeholderData: (b) => b,
  });
  if (rates.isError) return <Failure error={rates.error} onRetry={() => void rates.refetch()} />;
  if (!rates.data) return <Loading what="the rates" />;
  const { all, rows } = rates.data;
  const asked = site.purposes.filter((p) => !p.essential);
  const measures = [
    { value: 'refused', words: 'refused all' },
    ...asked.map((p) => ({ value: p.code, words: `allowed ${p.name}` })),
  ];
  const share = (r: Rate): Share | null =>
    of === 'refused' ? (r.shares?.refused ?? null) : (r.shares?.purposes[of] ?? null);
  const told = rows.filter((r) => share(r));
  const withheld = rows.filter((r) => !share(r) && r.answered > 0);
  const words = measures.find((m) => m.value === of)?.words ?? of;
  return (
    <>
      <p className={shared['sentence']}>
        Of the visitors who answered within{' '}
        <Slot
          label="Days"
          words={countWords(Number(days), 'day')}
          edit={{
            kind: 'choice',
            value: days,
            options: DAYS.map((d) => ({ value: d, words: countWords(Number(d), 'day') })),
            set: (d) => setQuery({ days: d }),
          }}
        />
        , who{' '}
        <Slot
          label="What they answered"
          words={words}
          edit={{ kind: 'choice', value: of, options: measures, set: (m) => setQuery({ of: m }) }}
        />
        , by{' '}
        <Slot
          label="Told apart by"
          words={RATE_BY_WORDS[by]}
          edit={{
            kind: 'choice',
            value: by,
            options: RATE_BY.map((b) => ({ value: b, words: RATE_BY_WORDS[b] })),
            set: (b) => setQuery({ by: b }),
          }}
        />
        .
      </p>
      {all.answered === 0 ? (
        <Empty title="Nobody has answered yet">
          Put the notice in force and install its line. Rates appear with the first ten answers.
        </Empty>
      ) : (
        <>
          <p className={shared['dim']}>
            {countWords(all.answered, 'visitor')} answered
            {all.shown !== null && `, the notice was shown ${numberWords(all.shown)} times`}
            {share(all) && `; ${wordsOf(share(all) as Share)} ${words}`}. No answer is no refusal.
          </p>
          <IntervalChart
            title={`Share who ${words}, by ${RATE_BY_WORDS[by]}`}
            of={RATE_BY_WORDS[by]}
            rows={told.map((r) => ({
              key: r.key,
              name: `${r.changed && of === 'refused' ? '◆ ' : ''}${nameOf(by, r.key)}`,
              ...(share(r) as Share),
              count: `${countWords(r.answered, 'visitor')}${r.shown === null ? '' : `, shown ${numberWords(r.shown)} times`}`,
              href: siteLink(site.host) + recordsOf(by, r.key, Number(days)),
            }))}
          />
          {told.some((r) => r.changed) && of === 'refused' && (
            <p className={shared['dim']}>
              ◆ differs from the week before by more than chance (two shares, at 1 % over all weeks shown).
            </p>
          )}
          {withheld.length > 0 && (
            <p className={shared['dim']}>
              ○ {countWords(withheld.length, 'group')} of fewer than {LEAST_GROUP} visitors withheld:{' '}
              {withheld
                .slice(0, 8)
                .map((r) => nameOf(by, r.key))
                .join(', ')}
              .
            </p>
          )}
        </>
      )}
    </>
  );
}

function wordsOf({ share, low, high }: Share): string {
  return `${percentWords(share, 1)} (95% interval ${percentWords(low, 1)} to ${percentWords(high, 1)})`;
}

function nameOf(by: RateBy, key: string): string {
  switch (by) {
    case 'week':
      return `from ${dayWords(key)}`;
    case 'region':
      return regionName(key);
    case 'language':
      return languageName(key);
    case 'version':
      return `Notice ${key}`;
    case 'device':
      return key || 'not told';
    case 'page':
      return key ? `/${key}` : 'the start, or not told';
  }
}

/** The records behind a group within these days. */
function recordsOf(by: RateBy, key: string, days: number): string {
  if (by === 'week') {
    const until = new Date(Date.parse(key) + 6 * 86_400_000);
    const to = Number.isNaN(until.getTime()) ? key : until.toISOString().slice(0, 10);
    return queryString({ tab: 'consents', from: key, to });
  }
  const value = { device: key || NOT_TOLD, page: pagesAt(key) }[by as string] ?? key;
  const from = new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10);
  return queryString({ tab: 'consents', [by]: value, from });
}
