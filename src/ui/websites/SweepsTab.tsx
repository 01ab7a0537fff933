import { useQueryClient } from '@tanstack/react-query';
import { VISITOR_WORDS } from '../../core/websites/visitor.ts';
import type { SiteDetail } from '../../server/websites/site-detail.ts';
import { useMay } from '../desk/account-context.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { countWords, durationWords, whenWords } from '../desk/words.ts';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { Empty } from '../parts/states.tsx';
import { siteLink } from './WebsitesArea.tsx';
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
  return (
    <div className={css['notice']}>
      <Limits site={site} />
      {site.sweeps.length === 0 ? (
        <Empty title="Never swept">Press “Sweep this site” above.</Empty>
      ) : (
        <History site={site} />
      )}
    </div>
  );
}

/** How far a sweep of this site goes, as a sentence. */
function Limits({ site }: { readonly site: SiteDetail }) {
  const client = useQueryClient();
  const mayEdit = useMay('websites.edit');
  const save = async (edit: { maxPages?: number; maxMinutes?: number }) => {
    const before = { maxPages: site.maxPages, maxMinutes: site.maxMinutes };
    const send = async (values: typeof edit) => {
      await request('PATCH', `/api${siteLink(site.host)}`, values);
      await client.invalidateQueries({ queryKey: ['site', site.host] });
    };
    try {
      await send(edit);
      tell('The next sweep keeps to this.', { undo: () => send(before) });
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <Sentence label="Sweep">
      as a visitor before any choice, after refusing and after accepting, at most{' '}
      <Slot
        label="Most pages"
        words={countWords(site.maxPages, 'page')}
        fixed={!mayEdit}
        edit={{
          kind: 'number',
          unit: 'pages',
          least: 1,
          most: 5000,
          value: site.maxPages,
          set: (maxPages) => void save({ maxPages }),
        }}
      />{' '}
      within{' '}
      <Slot
        label="Most minutes"
        words={countWords(site.maxMinutes, 'minute')}
        fixed={!mayEdit}
        edit={{
          kind: 'number',
          unit: 'minutes',
          least: 1,
          most: 240,
          value: site.maxMinutes,
          set: (maxMinutes) => void save({ maxMinutes }),
        }}
      />
    </Sentence>
  );
}

function History({ site }: { readonly site: SiteDetail }) {
  return (
    <>
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
    </>
  );
}
