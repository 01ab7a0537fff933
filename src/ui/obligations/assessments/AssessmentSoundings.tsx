import { readinessOf } from '../../../core/obligations/readiness/readiness.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { dateWords, numberWords } from '../../desk/words.ts';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Loading } from '../../parts/states.tsx';
import { TimeChart } from '../../parts/TimeChart.tsx';
import { frameworkLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessment, useDifferences } from '../use-obligations.ts';
import css from '../obligations.module.css';

/** How it went over time, who has to do it, and who tested it. */
export function AssessmentSoundings({ id }: { readonly id: string }) {
  const { data } = useAssessment(id);
  const newer = useDifferences(
    data?.framework.id ?? '',
    data && data.newer !== null ? data.framework.version : undefined,
  );
  const mayEdit = useMay('obligations.edit');
  if (!data) return <Loading what="its history" />;
  const take = async () => {
    try {
      await request('POST', `/api/obligations/assessments/${id}/version`, {});
      tell('It is held against the new version from now on.');
    } catch (error) {
      tellFailure(error);
    }
  };
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
      {once.length > 0 && (
        <SoundingsSection title="Fails now">
          <ul className={css['plain']}>
            {once.map((m) => (
              <li key={m.id} className={css['mark']}>
                ◆ {m.name}
                <small>{m.live ? `since ${dateWords(m.live.since)}` : 'tested by a person'}</small>
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
      {newer.data && (
        <SoundingsSection title="If the new version is taken">
          <p>
            {differenceWords(newer.data.differences)}.
            {data.newerTally &&
              ` Readiness there ${readyWords(data.tally)} → ${readyWords(data.newerTally)}, until its new measures are done.`}{' '}
            <a href={`${frameworkLink(data.framework.id)}?from=${data.framework.version}`}>
              See the differences
            </a>
          </p>
          {mayEdit && <Button onClick={() => void take()}>Take it now</Button>}
        </SoundingsSection>
      )}
    </>
  );
}

function differenceWords(differences: readonly { readonly is: 'new' | 'gone' | 'changed' }[]): string {
  const n = (is: string) => differences.filter((d) => d.is === is).length;
  return [
    n('new') > 0 ? `+${n('new')} controls` : '',
    n('changed') > 0 ? `${n('changed')} changed in words` : '',
    n('gone') > 0 ? `${n('gone')} gone` : '',
  ]
    .filter(Boolean)
    .join(', ');
}
