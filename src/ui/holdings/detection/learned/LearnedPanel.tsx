import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { LearnedDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  chooseThreshold,
  judge,
  type Judgement,
  type Rate,
} from '../../../../core/holdings/detection/learned/learned.ts';
import type { ListedText, OpenText } from '../../../../server/holdings/detection/detectors/detector-texts.ts';
import type { ListedTraining } from '../../../../server/holdings/detection/learned/trainings.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { countWords, percentWords, whenWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { CurveChart } from '../../../parts/CurveChart.tsx';
import { Dialog } from '../../../parts/Dialog.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { ProgressBar } from '../../../parts/states.tsx';
import type { OpenedOwn } from '../detectors/opened-own.ts';
import { sendFile } from '../../send-file.ts';
import { useDetectorJob } from '../detectors/use-detector-job.ts';
import css from '../../holdings.module.css';

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

function AddExamples({ id }: { readonly id: string }) {
  const [done, setDone] = useState<{ n: number; of: number }>();
  const [refused, setRefused] = useState<readonly string[]>([]);
  const add = useMutation({
    mutationFn: async ({ files, role }: { files: readonly File[]; role: string }) => {
      setRefused([]);
      const failed: string[] = [];
      for (const [n, file] of files.entries()) {
        setDone({ n, of: files.length });
        try {
          const upload = await sendFile(file);
          await request('POST', `/api/holdings/detectors/${id}/texts`, { role, of: { upload } });
        } catch (e) {
          failed.push(`${file.name}: ${(e as Error).message}`);
        }
      }
      setRefused(failed);
      return files.length - failed.length;
    },
    onSuccess: (n) => tell(`${countWords(n, 'text')} added.`),
    onSettled: async () => {
      setDone(undefined);
    },
  });
  return (
    <>
      <div className={css['acts']}>
        <Files
          label="Examples"
          words="Add examples"
          busy={add.isPending}
          take={(files) => add.mutate({ files, role: 'example' })}
        />
        <Files
          label="Counter-examples"
          words="Add counter-examples"
          busy={add.isPending}
          take={(files) => add.mutate({ files, role: 'counter-example' })}
        />
      </div>
      {done && (
        <ProgressBar label="Adding texts" share={done.n / done.of} words={`${done.n} of ${done.of} read`} />
      )}
      {refused.length > 0 && (
        <ul className={css['problems']}>
          {refused.slice(0, 20).map((r) => (
            <li key={r}>◆ {r}</li>
          ))}
        </ul>
      )}
    </>
  );
}

function Files({
  label,
  words,
  busy,
  take,
}: {
  readonly label: string;
  readonly words: string;
  readonly busy: boolean;
  readonly take: (files: readonly File[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label={label}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) take(files);
        }}
      />
      <Button busy={busy} onClick={() => input.current?.click()}>
        {words}
      </Button>
    </>
  );
}

function Trained({
  training,
  content,
  set,
  fixed,
  of,
}: {
  readonly training: ListedTraining;
  readonly content: LearnedDetector;
  readonly set: (content: LearnedDetector) => void;
  readonly fixed: boolean;
  readonly of: OpenedOwn;
}) {
  const { figures } = training;
  const labels = figures.positive.map((p) => (p ? 1 : 0));
  const threshold = content.threshold ?? chooseThreshold(figures.scores, labels, content.costs);
  const now = judge(figures.scores, labels, threshold);
  const wrong = figures.scores
    .map((score, i) => ({ i, score, positive: figures.positive[i] === true }))
    .filter((m) => m.score >= threshold !== m.positive)
    .sort((a, b) => Math.abs(b.score - threshold) - Math.abs(a.score - threshold));
  return (
    <section className={css['mapping']}>
      <h2>
        Training {training.number}, {whenWords(training.trainedAt)}
      </h2>
      <p className={css['hint']}>
        From {countWords(figures.texts.length, 'text')}, {figures.words} words and pairs. Each text was judged
        by a model that had not seen it.
      </p>
      {figures.warnings.map((w) => (
        <p key={w.words} className={css['problem']}>
          ◆ {w.words}.
          {w.examples.length > 0 &&
            ` ${w.examples
              .slice(0, 4)
              .map((i) => figures.names[i])
              .join(', ')}${w.examples.length > 4 ? ' …' : ''}`}
        </p>
      ))}
      <div className={css['rates']}>
        <RateOf name="Precision" rate={now.precision} of={countWords(now.falseAlarms, 'false alarm')} />
        <RateOf name="Recall" rate={now.recall} of={countWords(now.misses, 'miss', 'misses')} />
        <RateOf name="F1" rate={now.f1} of="of both" />
      </div>
      <CurveChart
        title="Precision over recall, by threshold"
        points={figures.curve}
        at={{ threshold, precision: now.precision.value, recall: now.recall.value }}
        onMove={fixed ? undefined : (t) => set({ ...content, threshold: t })}
      />
      {of.comparison && (
        <p>
          On the {countWords(of.comparison.texts, 'text')} that both learned from, version{' '}
          {of.comparison.inForce.version} in force has {judged(of.comparison.inForce.judgement)}; this draft
          has {judged(of.comparison.draft)}.
        </p>
      )}
      <h2>What it gets wrong</h2>
      {wrong.length === 0 ? (
        <p className={css['hint']}>✓ Nothing, at this threshold.</p>
      ) : (
        <ul className={css['marks']}>
          {wrong.slice(0, 30).map((m) => (
            <WrongText
              key={m.i}
              id={String(of.key)}
              text={figures.texts[m.i] ?? ''}
              name={figures.names[m.i] ?? ''}
              words={`${m.positive ? 'missed' : 'false alarm'}, scored ${m.score.toFixed(2)}`}
            />
          ))}
        </ul>
      )}
      <h2>The words that weigh most</h2>
      <ul className={css['telling']}>
        {figures.telling.map((t) => (
          <li key={t.word} data-against={t.weight < 0 || undefined}>
            <span>{t.word}</span>
            <span>{t.weight >= 0 ? 'for' : 'against'}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function judged(j: Judgement): string {
  return `precision ${percentWords(j.precision.value)} and recall ${percentWords(j.recall.value)}`;
}

function RateOf({ name, rate, of }: { readonly name: string; readonly rate: Rate; readonly of: string }) {
  return (
    <div>
      <span>{name}</span>
      <b>{percentWords(rate.value)}</b>
      <small>
        {percentWords(rate.low)} to {percentWords(rate.high)}, {of}
      </small>
    </div>
  );
}

/** One of its texts, opened to read. */
function WrongText({
  id,
  text,
  name,
  words,
}: {
  readonly id: string;
  readonly text: string;
  readonly name: string;
  readonly words: string;
}) {
  const [open, setOpen] = useState<OpenText>();
  return (
    <li>
      <Button
        kind="quiet"
        onClick={() =>
          void request<OpenText>('GET', `/api/holdings/detectors/${id}/texts/${text}`)
            .then(setOpen)
            .catch(tellFailure)
        }
      >
        {name}
      </Button>
      <span>{words}</span>
      {open && <TextDialog id={id} text={open} onClose={() => setOpen(undefined)} />}
    </li>
  );
}

function TextDialog({
  id,
  text,
  onClose,
}: {
  readonly id: string;
  readonly text: OpenText;
  readonly onClose: () => void;
}) {
  const other = text.role === 'example' ? 'counter-example' : 'example';
  const change = (work: Promise<unknown>, told: string) =>
    void work
      .then(async () => {
        tell(told);
        onClose();
      })
      .catch(tellFailure);
  return (
    <Dialog title={text.name} onClose={onClose}>
      <p>
        {text.role === 'example' ? 'An example' : 'A counter-example'}.{' '}
        <Button
          onClick={() =>
            change(
              request('POST', `/api/holdings/detectors/${id}/texts`, {
                role: other,
                of: { name: text.name, text: text.text, origin: 'verdict' },
              }),
              `${text.name} is ${other === 'example' ? 'an example' : 'a counter-example'} now.`,
            )
          }
        >
          It is {other === 'example' ? 'an example' : 'a counter-example'}
        </Button>{' '}
        <Button
          onClick={() =>
            change(
              request('DELETE', `/api/holdings/detectors/${id}/texts/${text.id}`),
              `${text.name} is taken out; the next training does without it.`,
            )
          }
        >
          Take it out
        </Button>
      </p>
      <div className={css['shown']} role="group" aria-label="Text" tabIndex={0}>
        {text.text.slice(0, 20_000)}
      </div>
    </Dialog>
  );
}

function Texts({
  id,
  texts,
  fixed,
}: {
  readonly id: string;
  readonly texts: readonly ListedText[];
  readonly fixed: boolean;
}) {
  if (texts.length === 0) return null;
  return (
    <details className={css['cases']}>
      <summary>
        All its texts <b>{texts.length}</b>
      </summary>
      <ul className={css['marks']}>
        {texts.slice(0, 1000).map((t) =>
          fixed ? (
            <li key={t.id}>
              {t.name} <span>{t.role}</span>
            </li>
          ) : (
            <WrongText
              key={t.id}
              id={id}
              text={t.id}
              name={t.name}
              words={`${t.role}${t.origin === 'verdict' ? ', by verdict' : ''}${t.score === null ? '' : `, scored ${t.score.toFixed(2)}`}`}
            />
          ),
        )}
      </ul>
    </details>
  );
}
