import { useMutation } from '@tanstack/react-query';
import type { LearnedDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { request } from '../../../desk/request.ts';
import { tellFailure } from '../../../desk/toasts.ts';
import { countWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { ProgressBar } from '../../../parts/states.tsx';
import type { OpenedOwn } from '../detectors/opened-own.ts';
import { useDetectorJob } from '../detectors/use-detector-job.ts';
import css from '../../holdings.module.css';
import { Texts } from './LearnedTexts.tsx';
import { AddExamples } from './AddExamples.tsx';
import { Trained } from './Trained.tsx';

/** What it learned from, how sure that makes it, where its threshold lies, and what it gets wrong. */
export function LearnedPanel({
  of,
  content,
  set,
  fixed,
}: {
  readonly of: OpenedOwn;
  readonly content: LearnedDetector;
  readonly set: (content: LearnedDetector) => void;
  readonly fixed: boolean;
}) {
  const id = String(of.key);
  const examples = of.texts.filter((t) => t.role === 'example');
  const others = of.texts.filter((t) => t.role === 'counter-example');
  const training = of.trainings.find((t) => t.number === content.training);
  const job = useDetectorJob('train-detector', id);
  const running = job !== undefined && (job.state === 'running' || job.state === 'waiting');
  const train = useMutation({
    mutationFn: () => request('POST', `/api/holdings/detectors/${id}/train`),
    onError: tellFailure,
  });
  const news = training
    ? of.texts.filter((t) => !training.figures.texts.includes(t.id)).length
    : of.texts.length;
  return (
    <>
      <Sentence label="Learns from">
        <b>{countWords(examples.length, 'example')}</b> and{' '}
        <b>{countWords(others.length, 'counter-example')}</b>
        {training && news > 0 && `; ${news} came after the last training`}
      </Sentence>
      <Sentence label="Weighs">
        a false alarm as{' '}
        <CostSlot
          label="Cost of a false alarm"
          value={content.costs.falseAlarm}
          fixed={fixed}
          set={(falseAlarm) => set({ ...content, threshold: null, costs: { ...content.costs, falseAlarm } })}
        />
        , a miss as{' '}
        <CostSlot
          label="Cost of a miss"
          value={content.costs.miss}
          fixed={fixed}
          set={(miss) => set({ ...content, threshold: null, costs: { ...content.costs, miss } })}
        />
        {content.threshold === null ? (
          '; they set the threshold'
        ) : (
          <>
            ; the threshold was set by hand, at {content.threshold.toFixed(2)}{' '}
            {!fixed && (
              <Button kind="quiet" onClick={() => set({ ...content, threshold: null })}>
                Let the costs set it
              </Button>
            )}
          </>
        )}
      </Sentence>
      {!fixed && <AddExamples id={id} />}
      {!fixed && (
        <div className={css['acts']}>
          <Button
            kind={training && news === 0 ? 'plain' : 'primary'}
            busy={train.isPending || running}
            onClick={() => train.mutate()}
          >
            {training ? 'Train it anew' : 'Train it'}
          </Button>
        </div>
      )}
      {running && (
        <ProgressBar
          label="Training"
          share={job.progress?.share ?? null}
          words={job.progress?.words ?? 'Waiting for a worker'}
        />
      )}
      {job?.state === 'failed' && <p className={css['problem']}>◆ {job.error}</p>}
      {training ? (
        <Trained training={training} content={content} set={set} fixed={fixed} of={of} />
      ) : (
        !running && <p className={css['hint']}>○ It is not trained yet, and finds nothing.</p>
      )}
      <Texts id={id} texts={of.texts} fixed={fixed} />
    </>
  );
}

function CostSlot({
  label,
  value,
  fixed,
  set,
}: {
  readonly label: string;
  readonly value: number;
  readonly fixed: boolean;
  readonly set: (value: number) => void;
}) {
  return (
    <Slot
      label={label}
      words={String(value)}
      fixed={fixed}
      edit={{ kind: 'number', unit: '', least: 1, most: 1000, value: Math.max(1, Math.round(value)), set }}
    />
  );
}
