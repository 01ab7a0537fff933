import { readinessOf } from '../../../core/obligations/readiness/readiness.ts';
import { dateWords, numberWords } from '../../desk/words.ts';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Loading } from '../../parts/states.tsx';
import { TimeChart } from '../../parts/TimeChart.tsx';
import { FAILED } from '../links.ts';
import { pointsWords } from '../obligation-words.ts';
import { useAssessment } from '../use-obligations.ts';
import { NewerVersion } from './NewerVersion.tsx';
import css from '../obligations.module.css';

/** What fails and is told beside the assessment; the rest is a click away. */
const MOST_FAILING = 6;

/** How it went over time, who has to do it, and who tested it. */
export function AssessmentSoundings({ id }: { readonly id: string }) {
  const { data } = useAssessment(id);
  if (!data) return <Loading what="its history" />;
  const points = data.days.map((d) => ({ at: d.day, value: Math.floor(readinessOf(d) ?? 0) }));
  const { ours, provider } = data.tally;
  const failing = data.controls.flatMap((c) => c.measures.filter((m) => m.test === 'failed'));
  const once = [...new Map(failing.map((m) => [m.id, m])).values()];
  return (
    <>
      <SoundingsSection title="Soundings · readiness over time">
        {points.length > 1 ? (
          <TimeChart label="How ready was it?" unit="of 100" series={[{ name: 'readiness', points }]} />
        ) : (
          <p className={css['note']}>It is kept once a day; the first day is today.</p>
        )}
      </SoundingsSection>
      <SoundingsSection title="Who has to do it">
        <p>
          ours{' '}
          <b>
            {pointsWords(ours.given)} of {pointsWords(ours.applicable)}
          </b>{' '}
          points · providers{' '}
          <b>
            {pointsWords(provider.given)} of {pointsWords(provider.applicable)}
          </b>
        </p>
        {data.tally.unanswered > 0 && (
          <p className={css['mark']}>
            ◆ {pointsWords(data.tally.unanswered)} points have no measure that applies
          </p>
        )}
      </SoundingsSection>
      <SoundingsSection title="Tested by">
        <p>
          the program itself <b>{numberWords(data.tests.program.passed)}</b> of{' '}
          {numberWords(data.tests.program.of)} measures
          <br />a person, other than the doer <b>{numberWords(data.tests.person.passed)}</b> of{' '}
          {numberWords(data.tests.person.of)} · nobody yet <b>{numberWords(data.tests.nobody)}</b>
        </p>
      </SoundingsSection>
      <NewerVersion view={data} />
      {once.length > 0 && (
        <SoundingsSection title="Fails now">
          <ul className={css['plain']}>
            {once.slice(0, MOST_FAILING).map((m) => (
              <li key={m.id} className={css['mark']}>
                ◆ {m.name}
                <small>{m.live ? `since ${dateWords(m.live.since)}` : 'tested by a person'}</small>
              </li>
            ))}
          </ul>
          {once.length > MOST_FAILING && (
            <p className={css['note']}>
              and <a href={FAILED}>{once.length - MOST_FAILING} more</a>
            </p>
          )}
        </SoundingsSection>
      )}
    </>
  );
}
