import { X } from 'lucide-react';
import { regionName } from '../../../core/websites/notice/region.ts';
import { measuredFairness } from '../../../core/websites/notice/notice-measure.ts';
import { FairnessList } from '../notice/FairnessList.tsx';
import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import { regimeOf, startsOn, type RegimeRow } from '../../../core/websites/notice/regime.ts';
import { stateAt, timeLine } from '../../../core/websites/visits/time-line.ts';
import { ANSWER_WORDS, ANSWERS, ranTooEarly, type Answer } from '../../../core/websites/visits/visit.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { siteLink } from '../links.ts';
import { useRegimes } from '../regimes/use-regimes.ts';
import { useSite } from '../sites/SiteSheet.tsx';
import shared from '../websites.module.css';
import { useOpenVisit } from './use-visits.ts';
import css from './visits.module.css';

/** What happened at one point of a visit, why it might or might not, and how things stood then. */
export function VisitSoundings({ host }: { readonly host: string }) {
  const site = useSite(host);
  const open = useOpenVisit(host);
  const regimes = useRegimes().data;
  const [at = '', answer = ''] = (useDeskLocation().query.get('event') ?? '').split('.');
  if (open.isError) return <Failure error={open.error} onRetry={() => void open.refetch()} />;
  if (open.isPending && open.fetchStatus === 'idle') return null;
  if (!open.data || !site.data) return <Loading what="the visit" />;
  const { course, visit, digest, ledgerId, matches } = open.data;
  const base = `/api${siteLink(host)}/visits/${visit.id}`;
  const evidence = course && (
    <SoundingsSection title="Evidence">
      <p className={shared['acts']}>
        <a className={shared['download']} href={`${base}/report.pdf`} download>
          Report, PDF
        </a>
        <a className={shared['download']} href={`${base}/report.json`} download>
          Course with proof, JSON
        </a>
      </p>
      <p className={shared['dim']}>
        {matches ? 'Sealed as it ended, in ' : '◆ It is not what was sealed in '}
        <a href={`/evidence/ledger?entry=${ledgerId}`}>ledger {numberWords(Number(ledgerId))}</a>:{' '}
        {digest.slice(0, 12)}…
      </p>
    </SoundingsSection>
  );
  if (!course) return null;
  const rows = timeLine(course.lanes);
  const row = at === '' ? undefined : rows[Number(at)];
  if (!row) {
    const early = rows.filter((r) => r.tooEarly);
    const measure = course.lanes.find((l) => l.measure)?.measure;
    return (
      <article>
        <SoundingsSection title="Visit">
          <p className={early.length > 0 ? shared['leak'] : shared['good']}>
            {early.length > 0
              ? `◆ ${countWords(early.length, 'thing')} ran when ${early.length === 1 ? 'it' : 'they'} should not.`
              : '✓ Nothing ran when it should not.'}
          </p>
          <ul className={shared['changes']}>
            {early.map((r) => (
              <li key={`${r.phase} ${r.key}`}>
                <button
                  type="button"
                  className={shared['linkButton']}
                  onClick={() =>
                    setQuery({
                      event: `${rows.indexOf(r)}.${ANSWERS.find((a) => r.cells[a] && ranTooEarly(r.cells[a])) ?? 'refuse'}`,
                    })
                  }
                >
                  {r.words}
                </button>
              </li>
            ))}
          </ul>
        </SoundingsSection>
        {measure && (
          <SoundingsSection title="The notice as rendered">
            <FairnessList findings={measuredFairness(measure, course.regime === 'ask first')} />
          </SoundingsSection>
        )}
        {evidence}
      </article>
    );
  }
  const there = ANSWERS.filter((a) => row.cells[a]);
  const shown = there.find((a) => a === answer) ?? (there[0] as Answer);
  const event = row.cells[shown];
  const lane = course.lanes.find((l) => l.answer === shown);
  if (!event || !lane) return null;
  const state = stateAt(lane, event);
  const purposes = site.data.purposes;
  const elsewhere = elsewhereWords(
    purposes.find((p) => p.code === event.purpose),
    course.wish.region,
    regimes,
  );
  return (
    <article>
      <SoundingsSection title={`At ${(event.at / 1000).toFixed(2)} s`}>
        <div className={shared['opened']}>
          <h3 className={shared['openedName']}>{event.words}</h3>
          <button
            type="button"
            aria-label="Close the event"
            className={shared['close']}
            onClick={() => setQuery({ event: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        {there.length > 1 && (
          <Segments
            label="Visitor"
            value={shown}
            options={there.map((a) => ({ value: a, words: ANSWER_WORDS[a] }))}
            onChange={(a) => setQuery({ event: `${at}.${a}` })}
          />
        )}
        {event.why && (
          <p className={ranTooEarly(event) ? shared['leak'] : undefined}>
            {ranTooEarly(event) ? '◆ ' : ''}
            {event.what === 'told' ? 'It was told:' : event.why}
          </p>
        )}
        {event.what === 'told' && <pre className={css['entry']}>{event.why}</pre>}
      </SoundingsSection>
      {event.cause.length > 0 && (
        <SoundingsSection title="Who asked for it">
          <ol className={shared['chain']}>
            {event.cause.map((c, i) => (
              <li key={`${c.url} ${i}`}>
                {c.what} <code>{c.url.replace(/^https?:\/\//, '').replace(/\?.*/, '')}</code>
                {c.line !== undefined && `, line ${c.line}`}
              </li>
            ))}
          </ol>
        </SoundingsSection>
      )}
      {ranTooEarly(event) && (
        <SoundingsSection title="What to do">
          <p>
            {event.cause.length <= 1
              ? 'It stands in the page’s own HTML, and a browser asks for it before any script can say no. Mark it in the page, or take it out.'
              : 'Let the gate hold it: by itself, for the whole site, or this tracker alone.'}
          </p>
          <p className={shared['acts']}>
            <a className={shared['download']} href={`${siteLink(host)}?tab=tags`}>
              Open the tags
            </a>
            <a
              className={shared['download']}
              href={`${siteLink(host)}?text=${encodeURIComponent(event.name || event.host)}`}
            >
              Open the tracker
            </a>
          </p>
        </SoundingsSection>
      )}
      {elsewhere && (
        <SoundingsSection title="Elsewhere">
          <p>{elsewhere}</p>
        </SoundingsSection>
      )}
      <SoundingsSection title="State then">
        <dl className={css['then']}>
          <dt>Region, law</dt>
          <dd>
            {regionName(course.wish.region)}, {course.regime}
          </dd>
          <dt>Answered</dt>
          <dd>{state.answered ? 'yes' : 'no'}</dd>
          {Object.entries(state.purposes).map(([p, s]) => (
            <div key={p}>
              <dt>{purposeName(purposes, p)}</dt>
              <dd>{s}</dd>
            </div>
          ))}
          {state.told && (
            <>
              <dt>Told to tags</dt>
              <dd>
                <code>{state.told}</code>
              </dd>
            </>
          )}
          <dt>Stored then</dt>
          <dd title={state.stored.join(', ')}>
            {state.stored.length === 0
              ? 'nothing'
              : `${state.stored.length}: ${state.stored.slice(0, 6).join(', ')}`}
          </dd>
        </dl>
      </SoundingsSection>
      {evidence}
    </article>
  );
}

/** Where the law says otherwise of the same purpose. */
function elsewhereWords(
  purpose: Purpose | undefined,
  region: string,
  regimes: readonly RegimeRow[] | undefined,
): string {
  if (!purpose || purpose.essential || !regimes) return '';
  const here = startsOn(regimeOf(region, regimes), purpose);
  const others = regimes.filter((r) => r.code !== 'ZZ' && startsOn(r, purpose) !== here);
  if (others.length === 0) return '';
  const names = others.slice(0, 3).map((r) => regionName(r.code));
  const more = others.length > 3 ? ` and ${others.length - 3} more` : '';
  return here
    ? `In ${names.join(', ')}${more} the same waits until it is allowed.`
    : `In ${names.join(', ')}${more} the same may run until it is refused.`;
}
