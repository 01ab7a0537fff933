import { useStore } from '@nanostores/react';
import type * as holdingsSetsSetScoreApi from '../../../../pages/api/holdings/sets/[set]/score.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Share } from '../../../../core/interval.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { ShownCase } from '../../../../server/holdings/detection/labelled/labelled-sets.ts';
import { useMay } from '../../../desk/account-context.ts';
import { useRemembered } from '../../../desk/preferences.ts';
import { request } from '../../../desk/request.ts';
import { countWords, percentWords } from '../../../desk/words.ts';
import { Slot } from '../../../parts/Slot.tsx';
import { SoundingsSection } from '../../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../../parts/states.tsx';
import { draftInHand } from '../detectors/draft-in-hand.ts';
import { LedBy } from '../detectors/LedBy.tsx';
import { useDetector, useDetectorName, useSets } from '../detectors/use-detectors.ts';
import css from '../../holdings.module.css';

const AFTER_MS = 400;

/** How a detector does on a labelled set, and what its last change and its draft gained and lost there. */
export function SetFigures({ detector }: { readonly detector: string }) {
  const may = useMay('holdings.edit');
  const sets = useSets().data;
  const found = useDetector(detector).data;
  const hand = useStore(draftInHand);
  const own = hand && hand.content.id === detector ? hand : undefined;
  const content = own?.content ?? (found?.origin === 'built-in' ? found.detector : undefined);
  const settled = useSettled(content);
  const [chosen, choose] = useRemembered<number | null>('labelled-set', null);
  const [label, setLabel] = useState<string>();
  const nameOf = useDetectorName();
  if (!may || !content || !settled || (content.kind !== 'pattern' && content.kind !== 'roster')) return null;
  if (!sets) return <Loading what="the labelled sets" />;
  const marks = (s: (typeof sets)[number], id: string) => s.labels.find((l) => l.label === id)?.n ?? 0;
  const labels = [detector, own?.copiedFrom ?? ''].filter(Boolean);
  const set =
    sets.find((s) => s.id === chosen) ??
    sets.find((s) => labels.some((l) => marks(s, l) > 0)) ??
    sets.find((s) => s.texts > 0);
  if (!set)
    return (
      <SoundingsSection title="On a labelled set">
        <p className={css['hint']}>
          There is none yet. Keep a text with what should be found in it, below, and this detector is held
          against it at every change.
        </p>
      </SoundingsSection>
    );
  const judged = label ?? labels.find((l) => marks(set, l) > 0) ?? detector;
  return (
    <SoundingsSection title="On a labelled set">
      <p className={css['judged']}>
        On{' '}
        <Slot
          label="Labelled set"
          words={set.name}
          edit={{
            kind: 'choice',
            value: String(set.id),
            options: sets.map((s) => ({
              value: String(s.id),
              words: s.name,
              detail: countWords(s.texts, 'text'),
            })),
            set: (v) => choose(Number(v)),
          }}
        />
        , right is what is marked{' '}
        <Slot
          label="What is marked"
          words={nameOf(judged)}
          edit={{
            kind: 'choice',
            value: judged,
            options: [
              ...set.labels.map((l) => ({
                value: l.label,
                words: nameOf(l.label),
                detail: countWords(l.n, 'mark'),
              })),
              ...(set.labels.some((l) => l.label === detector)
                ? []
                : [{ value: detector, words: nameOf(detector), detail: 'no marks' }]),
            ],
            set: setLabel,
          }}
        />
      </p>
      <SetScore set={set.id} label={judged} content={settled} own={own} />
    </SoundingsSection>
  );
}

/** The content once it has stood still for a moment. */
function useSettled(content: OwnDetector | undefined): OwnDetector | undefined {
  const [settled, setSettled] = useState(content);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(content), AFTER_MS);
    return () => clearTimeout(timer);
  }, [content]);
  return settled ?? content;
}

function SetScore({
  set,
  label,
  content,
  own,
}: {
  readonly set: number;
  readonly label: string;
  readonly content: OwnDetector;
  readonly own: { readonly before: OwnDetector | undefined; readonly lastVersion: number } | undefined;
}) {
  const before = own?.before;
  const figures = useQuery({
    queryKey: ['set-figures', set, label, content, before],
    queryFn: () =>
      request<AnswerOf<typeof holdingsSetsSetScoreApi.POST>>('POST', `/api/holdings/sets/${set}/score`, {
        label,
        draft: content,
        earlier: before ? [before] : [],
      }),
    placeholderData: (old) => old,
    gcTime: 60_000,
  });
  if (figures.isError) return <Failure error={figures.error} onRetry={() => void figures.refetch()} />;
  if (!figures.data) return <Loading what="its figures" />;
  const { score, falseAlarms, missed, changes } = figures.data;
  const [change] = changes;
  if (score.right + score.falseAlarms + score.missed === 0)
    return (
      <p className={css['hint']}>
        ○ Nothing in it is marked so, and nothing is found. Mark some in the set to have figures.
      </p>
    );
  return (
    <div data-set-figures aria-busy={figures.isFetching}>
      <div className={css['rates']}>
        <RateFigure
          name="Precision"
          share={score.precision}
          of={`${score.right} of ${score.right + score.falseAlarms} found are right`}
        />
        <RateFigure
          name="Recall"
          share={score.recall}
          of={`${score.right} of ${score.right + score.missed} marked are found`}
        />
      </div>
      {before && change && (
        <div className={css['changed']} role="status">
          <b>Your last change</b>{' '}
          {change.gained.length + change.lost.length + change.newAlarms.length + change.alarmsGone.length ===
          0 ? (
            <span>changed nothing here.</span>
          ) : (
            <ul>
              <Cases mark="✓" words="gained" cases={change.gained} />
              <Cases mark="✓" words="false alarms gone" cases={change.alarmsGone} one="false alarm gone" />
              <Cases mark="◆" words="lost" cases={change.lost} />
              <Cases mark="◆" words="new false alarms" cases={change.newAlarms} one="new false alarm" />
            </ul>
          )}
        </div>
      )}
      <CaseList title="False alarms" total={score.falseAlarms} cases={falseAlarms} />
      <CaseList title="Missed" total={score.missed} cases={missed} />
    </div>
  );
}

function RateFigure({
  name,
  share,
  of,
}: {
  readonly name: string;
  readonly share: Share | null;
  readonly of: string;
}) {
  return (
    <div>
      <span>{name}</span>
      <b>{share ? percentWords(share.share) : '—'}</b>
      <small>
        {share ? `${percentWords(share.low)} to ${percentWords(share.high)}, ` : ''}
        {of}
      </small>
    </div>
  );
}

function Cases({
  mark,
  words,
  one = words,
  cases,
}: {
  readonly mark: '✓' | '◆';
  readonly words: string;
  readonly one?: string;
  readonly cases: readonly ShownCase[];
}) {
  if (cases.length === 0) return null;
  return (
    <li data-trouble={mark === '◆' || undefined}>
      {mark} {cases.length} {cases.length === 1 ? one : words}:{' '}
      {cases
        .slice(0, 4)
        .map((c) => c.value)
        .join(', ')}
      {cases.length > 4 && ' …'}
    </li>
  );
}

function CaseList({
  title,
  total,
  cases,
}: {
  readonly title: string;
  readonly total: number;
  readonly cases: readonly ShownCase[];
}) {
  if (total === 0) return null;
  return (
    <details className={css['cases']}>
      <summary>
        {title} <b>{total}</b>
      </summary>
      <LedBy cases={cases} missed={title === 'Missed'} />
      <ul>
        {cases.map((c, i) => (
          <li key={i}>
            <span className={css['hint']}>{c.name}</span>
            <br />
            {c.before}
            <mark>{c.value}</mark>
            {c.after}
          </li>
        ))}
      </ul>
    </details>
  );
}
