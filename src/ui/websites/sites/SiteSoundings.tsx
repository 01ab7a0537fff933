import { useQuery } from '@tanstack/react-query';
import type * as websitesHostSoundingsApi from '../../../pages/api/websites/[host]/soundings.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import { regimeOf } from '../../../core/websites/notice/regime.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { request } from '../../desk/request.ts';
import { numberWords, percentWords, whenWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { lazyPart } from '../../parts/lazy-part.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { Difference } from '../sweeps/Difference.tsx';
import { useRegimes } from '../regimes/use-regimes.ts';
import { FairnessList } from '../notice/FairnessList.tsx';
import { useNotice } from '../notice/use-notice.ts';
import { useSite } from './SiteSheet.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

const IntervalChart = lazyPart(
  'the chart',
  async () => (await import('../../parts/IntervalChart.tsx')).IntervalChart,
);

export function SiteSoundings({ host }: { readonly host: string }) {
  const site = useSite(host);
  const notice = useNotice(host);
  const regimes = useRegimes().data;
  const soundings = useQuery({
    queryKey: ['site-soundings', host],
    queryFn: () =>
      request<AnswerOf<typeof websitesHostSoundingsApi.GET>>('GET', `/api${siteLink(host)}/soundings`),
  });
  if (soundings.isError && !soundings.data)
    return <Failure error={soundings.error} onRetry={() => void soundings.refetch()} />;
  if (!soundings.data || !site.data) return <Loading what="soundings" />;
  const { rates, difference, lastChanges } = soundings.data;
  const { counts } = site.data;
  const records = `${siteLink(host)}?tab=consents`;
  return (
    <>
      <SoundingsSection title={`Soundings · last ${rates.days} days`}>
        <FigureRow>
          <Figure
            value={rates.allowedSomething ? percentWords(rates.allowedSomething.share, 1) : '–'}
            words="allowed something"
            href={records}
          />
          <Figure value={numberWords(rates.choices)} words="visitors chose" href={records} />
          {site.data.sweep && (
            <Figure
              value={numberWords(counts.leaks)}
              words={counts.leaks === 1 ? 'leak' : 'leaks'}
              href={`${siteLink(host)}?show=leaks`}
              mark={counts.leaks > 0}
            />
          )}
        </FigureRow>
        {rates.allowedSomething && (
          <p className={css['dim']}>
            95% interval {percentWords(rates.allowedSomething.low, 1)} to{' '}
            {percentWords(rates.allowedSomething.high, 1)} (Wilson); each visitor counts once.
          </p>
        )}
        {rates.choices === 0 && (
          <p className={css['dim']}>No choice is on record yet. They appear here within seconds.</p>
        )}
      </SoundingsSection>
      {rates.byRegion.length > 0 && (
        <SoundingsSection title="Allowed something, by region">
          <IntervalChart
            title="Share of visitors who allowed something, by region"
            rows={rates.byRegion.slice(0, 8).map((r) => ({
              key: r.region,
              name: regionName(r.region),
              ...r.share,
              count: `${numberWords(r.choices)} visitors, ${regimeOf(r.region, regimes).regime}`,
              href: `${records}&region=${r.region}`,
            }))}
          />
        </SoundingsSection>
      )}
      {notice.data && (
        <SoundingsSection title="Is the notice fair?">
          <FairnessList
            findings={fairness(
              notice.data.content,
              site.data.purposes,
              site.data.sweep ? site.data.sweptPurposes : undefined,
            )}
          />
        </SoundingsSection>
      )}
      <SoundingsSection
        title={difference ? `Since the sweep of ${whenWords(difference.since)}` : 'Since the last sweep'}
      >
        {difference ? (
          <Difference difference={difference.difference} purposes={site.data.purposes} />
        ) : (
          <p className={css['dim']}>
            {site.data.sweep ? 'This is the first sweep. The next one shows what changed.' : 'Never swept.'}
          </p>
        )}
      </SoundingsSection>
      {lastChanges.length > 0 && (
        <SoundingsSection title="Last changes of the notice">
          <ul className={css['changes']}>
            {lastChanges.map((e) => (
              <li key={e.id}>
                {whenWords(e.at)} · {e.actorName ?? e.actor} · {changeWords(e.action, e.detail)}{' '}
                <a href={`/evidence/ledger?entry=${e.id}`}>ledger {numberWords(Number(e.id))}</a>
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
    </>
  );
}

function changeWords(action: string, detail: unknown): string {
  const { words } = (detail ?? {}) as { words?: readonly string[] };
  return words?.length
    ? words.slice(0, 2).join('; ') + (words.length > 2 ? ` and ${words.length - 2} more` : '')
    : action.replace('notice.', '').replaceAll('-', ' ');
}
