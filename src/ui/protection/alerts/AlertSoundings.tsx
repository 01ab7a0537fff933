import { useQuery } from '@tanstack/react-query';
import type * as countsApi from '../../../pages/api/protection/activity/counts.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { OUTCOME_WORDS } from '../../../core/protection/lookouts/watch-lines.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, daysAgo, numberWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { CountTable } from '../CountTable.tsx';
import { useLookouts } from '../lookouts/use-lookouts.ts';
import { ACTIVITY, ALERTS, lookoutLink } from '../links.ts';
import { useAlert } from './use-alerts.ts';
import css from '../protection.module.css';

const DAYS = 30;

/** What else they did, and how often its lookout was right. */
export function AlertSoundings({ id }: { readonly id: string }) {
  const alert = useAlert(id).data;
  const maySee = useMay('protection.activity');
  const lookouts = useLookouts().data;
  const lookout = alert?.byKind === 'lookout' ? lookouts?.find((l) => l.id === alert.lookout) : undefined;
  if (!alert) return null;
  const device = /^device (\d+)$/.exec(alert.key)?.[1];
  const whose: Readonly<Record<string, string>> | undefined =
    alert.key === 'everybody' ? undefined : device ? { device } : { person: alert.key };
  return (
    <>
      {maySee && whose && <WhatElse whose={whose} name={alert.key} />}
      {lookout && (
        <SoundingsSection title="Its lookout so far">
          <p>
            <a href={lookoutLink(lookout.id)}>{lookout.name}</a> raised{' '}
            <a href={`${ALERTS}?lookout=${encodeURIComponent(lookout.id)}`}>
              {countWords(lookout.raised, 'alert')} in {DAYS} days
            </a>
            {lookout.setAside > 0 ? `, ${numberWords(lookout.setAside)} of which were none.` : '.'}
          </p>
          {lookout.setAside * 2 > lookout.raised && (
            <p className={css['note']}>More than half were none: ask more of it, or leave somebody alone.</p>
          )}
        </SoundingsSection>
      )}
    </>
  );
}

function WhatElse({
  whose,
  name,
}: {
  readonly whose: Readonly<Record<string, string>>;
  readonly name: string;
}) {
  const query = { ...whose, from: daysAgo(DAYS) };
  const counts = useQuery({
    queryKey: ['activity-counts', query],
    queryFn: () =>
      request<AnswerOf<typeof countsApi.GET>>('GET', `/api/protection/activity/counts${queryString(query)}`),
  });
  if (counts.isError) return <Failure error={counts.error} onRetry={() => void counts.refetch()} />;
  if (!counts.data) return <Loading what="what else they did" />;
  const { total, facets } = counts.data;
  const ways = Object.entries(facets.channel).toSorted((a, b) => b[1] - a[1]);
  return (
    <SoundingsSection title={`${name.split('@')[0] ?? name}, last ${DAYS} days`}>
      <FigureRow>
        <Figure value={numberWords(total)} words="acts" href={`${ACTIVITY}${queryString(query)}`} />
        {(['stop', 'ask'] as const).map(
          (o) =>
            (facets.outcome[o] ?? 0) > 0 && (
              <Figure
                key={o}
                value={numberWords(facets.outcome[o] ?? 0)}
                words={OUTCOME_WORDS[o]}
                href={`${ACTIVITY}${queryString({ ...query, outcome: o })}`}
                mark={o === 'stop'}
              />
            ),
        )}
      </FigureRow>
      <CountTable
        label="On which ways"
        rows={ways.slice(0, 6).map(([way, n]) => ({
          ...{ key: way, n },
          name: <a href={`${ACTIVITY}${queryString({ ...query, channel: way })}`}>{way}</a>,
        }))}
      />
    </SoundingsSection>
  );
}
