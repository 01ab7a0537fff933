import { useStore } from '@nanostores/react';
import { go } from './location.ts';
import { connected, deskState } from './live.ts';
import { request } from './request.ts';
import { tell, tellFailure } from './toasts.ts';
import { durationWords, timeWords } from './words.ts';
import type { StripJob } from '../../server/desk/desk-state.ts';
import css from './Strip.module.css';

/** What is in force, what is rehearsed, and what runs: at the foot of every screen. */
export function Strip() {
  const state = useStore(deskState);
  const online = useStore(connected);
  const running = state?.jobs.filter((j) => j.state === 'running' || j.state === 'waiting') ?? [];
  const failed = state?.jobs.find((j) => j.state === 'failed');
  return (
    <footer className={css['strip']}>
      {state ? (
        <>
          <span className={css['state']} data-kind="force">
            <b>{state.inForce}</b> {state.inForce === 1 ? 'rule' : 'rules'} in force
          </span>
          <span className={css['state']} data-kind="rehearsing">
            <b>{state.rehearsing}</b> rehearsing
          </span>
        </>
      ) : (
        <span>Loading …</span>
      )}
      <span className={css['space']} />
      <span role="status" className={css['jobs']}>
        {!online && <span className={css['trouble']}>◆ Not connected: trying again</span>}
        {failed && running.length === 0 && <span className={css['trouble']}>◆ {failed.title} failed</span>}
        {state && running.length === 0 && !failed && <span>Nothing runs</span>}
      </span>
      {running.slice(0, 2).map((job) => (
        <Running key={job.id} job={job} />
      ))}
      {running.length > 2 && <span>and {running.length - 2} more</span>}
      {state?.ledger?.sealedAt && (
        <a href="/evidence/ledger" className={css['ledger']}>
          Ledger sealed {timeWords(state.ledger.sealedAt)}
        </a>
      )}
    </footer>
  );
}

function Running({ job }: { readonly job: StripJob }) {
  const { progress } = job;
  const percent = progress?.share == null ? null : Math.round(progress.share * 100);
  const cancel = () =>
    request('DELETE', `/api/jobs/${job.id}`)
      .then(() => tell(`${job.title} stops; what it found is kept.`))
      .catch(tellFailure);
  return (
    <span className={css['job']}>
      <button
        type="button"
        className={css['link']}
        onClick={() => job.link && go(job.link)}
        title={progress?.words}
      >
        {job.title}
        {': '}
        <b>
          {job.stopping
            ? 'stopping'
            : job.state === 'waiting'
              ? 'waiting'
              : percent === null
                ? 'running'
                : `${percent}%`}
        </b>
        {progress?.secondsLeft != null && `, ${durationWords(progress.secondsLeft)} left`}
      </button>
      {percent !== null && <progress max={100} value={percent} aria-label={job.title} />}
      {job.mayCancel && !job.stopping && (
        <button
          type="button"
          className={css['link']}
          onClick={() => void cancel()}
          aria-label={`Cancel: ${job.title}`}
        >
          Cancel
        </button>
      )}
    </span>
  );
}
