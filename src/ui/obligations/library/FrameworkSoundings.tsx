import { countWords, numberWords } from '../../desk/words.ts';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Loading } from '../../parts/states.tsx';
import { assessmentLink, frameworkLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessments, useFramework, useStartPreview } from '../use-obligations.ts';
import css from '../obligations.module.css';

/** What starting a framework would come to, and what it shares with others. */
export function FrameworkSoundings({ id }: { readonly id: string }) {
  const assessments = useAssessments();
  const view = useFramework(id);
  const latest = assessments.data?.[0];
  const preview = useStartPreview(id, latest?.cycleId);
  if (!view.data || !preview.data || !assessments.data) return <Loading what="what it would do" />;
  const running = assessments.data.filter((a) => a.name === view.data.framework.name);
  const { controls } = view.data.framework;
  return (
    <>
      <SoundingsSection title={`Soundings · if it were started${latest ? ` in ${latest.cycle}` : ''}`}>
        <p>
          It would begin at <b>{readyWords(preview.data.tally)}</b> of 100, and add{' '}
          {pointsWords(preview.data.tally.applicable)} points to what is to be reached.
        </p>
        <p className={css['note']}>
          {preview.data.newMeasures} of its {countWords(preview.data.measures, 'measure')} are in no
          assessment that runs.
          {preview.data.comesAlong.length > 0 &&
            ` ${countWords(preview.data.comesAlong.length, 'measure comes', 'measures come')} along from other cycles.`}
        </p>
        {running.map((a) => (
          <p key={a.id}>
            Runs already: <a href={assessmentLink(a.id)}>{a.cycle}</a>, {readyWords(a.tally)} of 100
          </p>
        ))}
      </SoundingsSection>
      <SoundingsSection title="Beside others">
        <p className={css['note']}>
          Of its {countWords(controls.length, 'control')}, wholly answered by measures of:
        </p>
        <ul className={css['plain']}>
          {view.data.beside
            .filter((b) => b.covered > 0)
            .map((b) => (
              <li key={b.id}>
                <a href={`${frameworkLink(id)}?beside=${encodeURIComponent(b.id)}`}>{b.name}</a>{' '}
                {numberWords(b.covered)}
              </li>
            ))}
        </ul>
      </SoundingsSection>
    </>
  );
}
