import type { LearnedDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  chooseThreshold,
  judge,
  type Judgement,
  type Rate,
} from '../../../../core/holdings/detection/learned/learned.ts';
import type { ListedTraining } from '../../../../server/holdings/detection/learned/trainings.ts';
import { countWords, percentWords, whenWords } from '../../../desk/words.ts';
import { CurveChart } from '../../../parts/CurveChart.tsx';
import type { OpenedOwn } from '../detectors/opened-own.ts';
import css from '../../holdings.module.css';
import { WrongText } from './LearnedTexts.tsx';

export function Trained({
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

export function judged(j: Judgement): string {
  return `precision ${percentWords(j.precision.value)} and recall ${percentWords(j.recall.value)}`;
}

export function RateOf({
  name,
  rate,
  of,
}: {
  readonly name: string;
  readonly rate: Rate;
  readonly of: string;
}) {
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
