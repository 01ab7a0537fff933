import type * as sweepApi from '../../../pages/api/websites/[host]/sweeps/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { OUTCOME_WORDS, type NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import { sameWay, wayWords, type NoticeWay } from '../../../core/websites/reading/notice-way.ts';
import { regimeOf } from '../../../core/websites/notice/regime.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { VISITOR_ACTS, VISITOR_WORDS } from '../../../core/websites/trackers/visitor.ts';
import type { SweepDetail } from '../../../server/websites/sweeps/sweep-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, durationWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { Difference } from './Difference.tsx';
import { useSite } from '../sites/SiteSheet.tsx';
import { STATE_WORDS } from './SweepsTab.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

/** One sweep: what it came to, what changed, what each visitor saw, and its evidence. */
export function SweepSoundings({ host, id }: { readonly host: string; readonly id: string }) {
  const against = useDeskLocation().query.get('against') ?? undefined;
  const site = useSite(host);
  const base = `/api${siteLink(host)}/sweeps/${id}`;
  const detail = useQuery({
    queryKey: ['sweep', host, id, against],
    queryFn: () => request<AnswerOf<typeof sweepApi.GET>>('GET', `${base}${queryString({ against })}`),
  });
  if (detail.isError) return <Failure error={detail.error} onRetry={() => void detail.refetch()} />;
  if (!detail.data || !site.data) return <Loading what="the sweep" />;
  const { sweep, difference, others } = detail.data;
  const { regime, law } = sweep.regime ?? regimeOf(sweep.region);
  const took =
    sweep.started_at && sweep.finished_at
      ? durationWords((Date.parse(sweep.finished_at) - Date.parse(sweep.started_at)) / 1000)
      : undefined;
  return (
    <article>
      <SoundingsSection title="Sweep">
        <div className={css['opened']}>
          <h3 className={css['openedName']}>{whenWords(sweep.started_at ?? sweep.created_at)}</h3>
          <button
            type="button"
            aria-label="Close the sweep"
            className={css['close']}
            onClick={() => setQuery({ sweep: null, against: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        <p>
          {STATE_WORDS[sweep.state]}
          {took && `, ${took}`},{' '}
          {sweep.origin === 'schedule' ? 'by the schedule' : `by ${sweep.started_by ?? 'someone'}`}:{' '}
          {countWords(sweep.pages, 'page')}, {countWords(sweep.trackers, 'tracker')},{' '}
          {countWords(sweep.leaks, 'leak')}.
        </p>
        <p className={css['dim']}>
          As from {regionName(sweep.region)}, {regime}: {law}.
        </p>
        {sweep.usual_pages !== null && sweep.pages < sweep.usual_pages * 0.6 && (
          <p className={css['leak']}>
            ◆ It found {countWords(sweep.pages, 'page')} where {sweep.usual_pages} are usual: do not take it
            for a clean site.
          </p>
        )}
        <Seen host={host} detail={detail.data} />
      </SoundingsSection>
      {detail.data.ledgerId && (
        <SoundingsSection title="Evidence">
          <p className={css['acts']}>
            <a className={css['download']} href={`${base}/report.pdf`} download>
              Report with pictures, PDF
            </a>
            <a className={css['download']} href={`${base}/report.json`} download>
              Findings with proof, JSON
            </a>
          </p>
          <p className={css['dim']}>
            Sealed as it ended, in{' '}
            <a href={`/evidence/ledger?entry=${detail.data.ledgerId}`}>
              ledger {numberWords(Number(detail.data.ledgerId))}
            </a>
            .
          </p>
        </SoundingsSection>
      )}
      {difference && detail.data.against && (
        <SoundingsSection title="What changed">
          <p className={css['dim']}>
            since{' '}
            <Slot
              label="Compared with"
              words={whenWords(detail.data.against.started_at ?? detail.data.against.created_at)}
              edit={{
                kind: 'choice',
                value: String(detail.data.against.id),
                options: others.map((o) => ({ value: String(o.id), words: whenWords(o.at) })),
                set: (v) => setQuery({ against: v }),
              }}
            />
          </p>
          <Difference difference={difference} purposes={site.data.purposes} />
        </SoundingsSection>
      )}
      {sweep.reading && <TriedWays reading={sweep.reading} />}
      {sweep.switches.length > 0 && (
        <SoundingsSection title="Switches, each on alone">
          <ul className={css['changes']}>
            {sweep.switches.map((s) => (
              <li key={s.words}>
                “{s.words}” <b>{purposeName(site.data.purposes, s.purpose)}</b>
                <span className={css['dim']}> on {countWords(s.pages, 'page')}</span>
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
      <SoundingsSection title="As each visitor">
        <ul className={css['visitors']}>
          {sweep.visitors.map((v) => (
            <li key={v}>
              <b>{VISITOR_WORDS[v]}</b>
              <span className={css['dim']}> {sweep.operated[v] ?? VISITOR_ACTS[v]}</span>
              {detail.data.pictures.includes(v) && (
                <a href={`${base}/picture/${v}`} target="_blank" rel="noreferrer">
                  <img
                    loading="lazy"
                    alt={`The start page ${VISITOR_ACTS[v]}`}
                    src={`${base}/picture/${v}`}
                  />
                </a>
              )}
            </li>
          ))}
        </ul>
      </SoundingsSection>
      {sweep.notes.length > 0 && (
        <SoundingsSection title="Out of the ordinary">
          <ul className={css['changes']}>
            {sweep.notes.map((n) => (
              <li key={`${n.visitor} ${n.words}`}>
                {n.visitor && <b>{VISITOR_WORDS[n.visitor]}: </b>}
                {n.words}
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
      {detail.data.troubled.length > 0 && (
        <SoundingsSection
          title={`${countWords(detail.data.troubled.length, 'page')} with something the matter`}
        >
          <ul className={css['changes']}>
            {detail.data.troubled.slice(0, 60).map((p) => (
              <li key={`${p.visitor} ${p.url}`}>
                <code>{pathOf(p.url)}</code> {p.note.toLowerCase()} ({VISITOR_WORDS[p.visitor].toLowerCase()})
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
    </article>
  );
}

/** Each way through the notice, tried in a clean profile, and what came of it. */
function TriedWays({ reading }: { readonly reading: NoticeReading }) {
  const roleOf = (way: NoticeWay) =>
    (['refuse', 'accept', 'choose'] as const).filter((c) => {
      const role = reading.roles[c];
      return role !== null && sameWay(role.way, way);
    });
  return (
    <SoundingsSection title="Ways through the notice">
      <p className={css['dim']}>
        {countWords(reading.before, 'tracker')} ran on the start page before any answer.
      </p>
      <ul className={css['changes']}>
        {reading.tried.map((t) => (
          <li key={JSON.stringify(t.way)} title={t.some.join('\n')}>
            {wayWords(t.way)}:{' '}
            {t.ran === null ? OUTCOME_WORDS[t.outcome] : `${countWords(t.ran, 'tracker')} after it`}
            {roleOf(t.way).length > 0 && (
              <b>
                {' '}
                {roleOf(t.way)
                  .map((r) => `✓ ${ROLE_WORDS[r]}`)
                  .join(' ')}
              </b>
            )}
          </li>
        ))}
      </ul>
    </SoundingsSection>
  );
}

const ROLE_WORDS = { refuse: 'refuses', accept: 'accepts', choose: 'lets choose' } as const;

/** What brought the sweep to Today, and the act that takes it off. */
function Seen({ host, detail }: { readonly host: string; readonly detail: SweepDetail }) {
  const may = useMay('websites.edit');
  const { sweep } = detail;
  if (!sweep.matters) return null;
  if (sweep.matters_seen_by !== null) return <p className={css['dim']}>✓ {sweep.matters}; seen.</p>;
  const mark = async () => {
    try {
      await request('POST', `/api${siteLink(host)}/sweeps/${sweep.id}/seen`, {});
      tell('Marked as seen. It is off Today.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <p>
      <span className={css['leak']}>◆ {sweep.matters}.</span>{' '}
      {may && <Button onClick={() => void mark()}>I have seen it</Button>}
    </p>
  );
}

function pathOf(url: string): string {
  return URL.canParse(url) ? new URL(url).pathname : url;
}
