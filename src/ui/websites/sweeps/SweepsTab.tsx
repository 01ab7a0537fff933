import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import type { Sweep } from '../../../server/websites/sweeps/sweeps.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords, durationWords, whenWords } from '../../desk/words.ts';
import { Empty } from '../../parts/states.tsx';
import { SweepPlan } from './SweepPlan.tsx';
import css from '../websites.module.css';

export const STATE_WORDS = {
  waiting: '○ waits for its turn',
  running: '○ running',
  complete: '✓ complete',
  cancelled: '○ cancelled, what it found is kept',
  failed: '◆ failed',
} as const;

/** How a site is swept, and its sweeps; one opens in the soundings. */
export function SweepsTab({ site }: { readonly site: SiteDetail }) {
  return (
    <div className={css['notice']}>
      <SweepPlan site={site} />
      {site.sweeps.length === 0 ? (
        <Empty title="Never swept">Press “Sweep this site” above.</Empty>
      ) : (
        <History sweeps={site.sweeps} />
      )}
    </div>
  );
}

function History({ sweeps }: { readonly sweeps: readonly Sweep[] }) {
  const opened = useDeskLocation().query.get('sweep');
  return (
    <table className={css['plain']} aria-label="Sweeps">
      <thead>
        <tr>
          <th>Started</th>
          <th>By</th>
          <th>Outcome</th>
          <th>Visitors</th>
          <th>Pages</th>
          <th>Trackers</th>
          <th>Leaks</th>
          <th>Took</th>
        </tr>
      </thead>
      <tbody>
        {sweeps.map((s) => (
          <tr key={s.id} aria-current={opened === String(s.id) || undefined}>
            <td>
              <button
                type="button"
                className={css['linkButton']}
                onClick={() => setQuery({ sweep: String(s.id), tracker: null, record: null }, 'push')}
              >
                {whenWords(s.started_at ?? s.created_at)}
              </button>
            </td>
            <td>{s.origin === 'schedule' ? 'the schedule' : (s.started_by ?? 'someone')}</td>
            <td data-state={s.state}>
              {STATE_WORDS[s.state]}
              {s.matters && (
                <div className={s.matters_seen_by === null ? css['leak'] : css['dim']}>{s.matters}</div>
              )}
              {s.notes.length > 0 && <div className={css['dim']}>{countWords(s.notes.length, 'note')}</div>}
            </td>
            <td>{s.visitors.length}</td>
            <td>
              {s.pages}
              {s.usual_pages !== null && s.pages < s.usual_pages * 0.6 && (
                <div className={css['leak']}>◆ usually {s.usual_pages}</div>
              )}
            </td>
            <td>{s.trackers}</td>
            <td className={s.leaks > 0 ? css['leak'] : undefined}>
              {s.leaks > 0 ? `◆ ${s.leaks}` : s.leaks}
            </td>
            <td>
              {s.started_at && s.finished_at
                ? durationWords((Date.parse(s.finished_at) - Date.parse(s.started_at)) / 1000)
                : '–'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
