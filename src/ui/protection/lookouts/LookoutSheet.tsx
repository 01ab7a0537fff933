import { lookoutSentence, lookoutVocabulary } from '../../../core/protection/lookouts/lookout-sentence.ts';
import { isBuiltIn } from '../../../core/protection/lookouts/built-in.ts';
import { WholeLookout } from '../../../core/protection/lookouts/lookout-content.ts';
import type { Act } from '../../../core/rules/rule.ts';
import { useMay } from '../../desk/account-context.ts';
import { whenWords } from '../../desk/words.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { ALERTS, LOOKOUTS } from '../links.ts';
import { KeyLink } from '../alerts/KeyLink.tsx';
import { useLookout, useLookoutNames, useLookoutOutlook } from './use-lookouts.ts';
import css from '../protection.module.css';

/** What is watched, what that raises, and who is told. */
export function LookoutSheet({ id }: { readonly id: string }) {
  const lookout = useLookout(id);
  const names = useLookoutNames();
  if (lookout.isError && !lookout.data)
    return <Failure error={lookout.error} onRetry={() => void lookout.refetch()} />;
  if (!lookout.data || !names) return <Loading what="the lookout" />;
  return (
    <SentenceSheet
      rule={lookout.data}
      schema={WholeLookout}
      sentence={(content) => lookoutSentence(content, names)}
      vocabulary={lookoutVocabulary(names)}
      detail={({ category }) =>
        `${isBuiltIn(id) ? 'Built in: it can be changed and switched off, not removed' : 'Our own'} · about ${category}`
      }
      means={{
        draft: 'it raises nothing; what it would have raised is told beside it',
        rehearsing: 'counted beside it, and nobody is told',
        inForce: 'it sees all that is told from now on, once each',
        stopped: 'it sees nothing; what it raised stays',
      }}
      done={DONE_WORDS}
      edit="protection.watch"
      force="protection.watch"
      list={LOOKOUTS}
      actions={<a href={`${ALERTS}?lookout=${encodeURIComponent(id)}`}>What it raised</a>}
      below={() => <WouldHaveRaised id={id} revision={lookout.data.revision} />}
    />
  );
}

/** What it would have raised, the newest first. */
function WouldHaveRaised({ id, revision }: { readonly id: string; readonly revision: number }) {
  const may = useMay('protection.activity');
  const outlook = useLookoutOutlook(id, may ? revision : undefined, 30);
  if (!may) return null;
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  if (!outlook.data) return <Loading what="what it would have raised" />;
  const { shown, days, raised } = outlook.data;
  return (
    <>
      <h2 className={css['heading']}>Would have been raised, last {days} days</h2>
      {shown.length === 0 ? (
        <p className={css['note']}>Nothing that was done would have raised it.</p>
      ) : (
        <table className={css['table']} aria-label="What it would have raised">
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">Whose</th>
              <th scope="col">Acts</th>
              <th scope="col">Because</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((r) => (
              <tr key={r.at + r.last}>
                <td>{whenWords(r.at)}</td>
                <td>
                  <KeyLink of={r.key} />
                </td>
                <td>{r.acts}</td>
                <td>{r.because}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {raised > shown.length && (
        <p className={css['note']}>
          The last {shown.length} of {raised}.
        </p>
      )}
    </>
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it is counted beside it, and nobody is told.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'On: it sees all that is told from now on.',
  pause: 'Off until it is taken up again.',
  resume: 'On again.',
  retire: 'Off. What it raised stays.',
  reopen: 'A draft again.',
};
