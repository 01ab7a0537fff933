import { VISITOR_WORDS } from '../../core/websites/visitor.ts';
import type { SiteDetail } from '../../server/websites/site-detail.ts';
import { countWords, durationWords, whenWords } from '../desk/words.ts';
import { Empty } from '../parts/states.tsx';
import css from './websites.module.css';

const STATE_WORDS = {
  waiting: '○ waits for its turn',
  running: '○ running',
  complete: '✓ complete',
  cancelled: '○ cancelled, what it found is kept',
  failed: '◆ failed',
} as const;

/** The history of a site's sweeps, and what was out of the ordinary in the newest. */
export function SweepsTab({ site }: { readonly site: SiteDetail }) {
  if (site.sweeps.length === 0) return <Empty title="Never swept">Press “Sweep this site” above.</Empty>;
  return (
    <div className={css['notice']}>
      <table className={css['plain']} aria-label="Sweeps">
        <thead>
          <tr>
            <th>Started</th>
            <th>By</th>
            <th>Outcome</th>
            <th>Pages</th>
            <th>Trackers</th>
            <th>Took</th>
          </tr>
        </thead>
        <tbody>
          {site.sweeps.map((s) => (
            <tr key={s.id}>
              <td>{whenWords(s.started_at ?? s.created_at)}</td>
              <td>{s.started_by ?? 'someone'}</td>
              <td data-state={s.state}>
                {STATE_WORDS[s.state]}
                {s.notes.map((n) => (
                  <div key={`${n.visitor} ${n.words}`} className={css['dim']}>
                    {n.visitor ? `${VISITOR_WORDS[n.visitor]}: ` : ''}
                    {n.words}
                  </div>
                ))}
              </td>
              <td>{s.pages}</td>
              <td>{s.trackers}</td>
              <td>
                {s.started_at && s.finished_at
                  ? durationWords((Date.parse(s.finished_at) - Date.parse(s.started_at)) / 1000)
                  : '–'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {site.troubled.length > 0 && (
        <section>
          <h2 className={css['h2']}>{countWords(site.troubled.length, 'page')} with something the matter</h2>
          <table className={css['plain']} aria-label="Troubled pages">
            <thead>
              <tr>
                <th>Page</th>
                <th>As visitor</th>
                <th>What</th>
              </tr>
            </thead>
            <tbody>
              {site.troubled.map((p) => (
                <tr key={`${p.visitor} ${p.url}`}>
                  <td className={css['host']}>{p.url}</td>
                  <td>{VISITOR_WORDS[p.visitor]}</td>
                  <td>{p.note}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  );
}
