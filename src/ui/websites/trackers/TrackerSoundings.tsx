import { useQuery } from '@tanstack/react-query';
import type * as websitesHostTrackersIdApi from '../../../pages/api/websites/[host]/trackers/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { X } from 'lucide-react';
import { leakingVisitors } from '../../../core/websites/trackers/leak.ts';
import { setByWords } from '../../../core/websites/trackers/proposal.ts';
import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import { regimeOf } from '../../../core/websites/notice/regime.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { lifetimeWords, type Cause, type Moment } from '../../../core/websites/trackers/tracker.ts';
import { VISITOR_WORDS, VISITORS } from '../../../core/websites/trackers/visitor.ts';
import type { OpenedTracker } from '../../../server/websites/trackers/trackers.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { countWords, dateWords, whenWords } from '../../desk/words.ts';
import { Explanation } from '../../parts/Explanation.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { FixPanel } from './FixPanel.tsx';
import { useRegimes } from '../regimes/use-regimes.ts';
import { useSite } from '../sites/SiteSheet.tsx';
import { Mark } from './TrackersTab.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

/** One tracker: what it is, where it runs without permission and why that is wrong, who put it there, what to do. */
export function TrackerSoundings({ host, id }: { readonly host: string; readonly id: string }) {
  const site = useSite(host);
  const tracker = useQuery({
    queryKey: ['tracker', host, id],
    queryFn: () =>
      request<AnswerOf<typeof websitesHostTrackersIdApi.GET>>('GET', `/api${siteLink(host)}/trackers/${id}`),
  });
  if (tracker.isError) return <Failure error={tracker.error} onRetry={() => void tracker.refetch()} />;
  if (!tracker.data || !site.data) return <Loading what="the tracker" />;
  const t = tracker.data;
  const purposes = site.data.purposes;
  const leaks = VISITORS.flatMap((v) => {
    const verdict = t.verdicts[v];
    return verdict?.verdict === 'leak' || verdict?.verdict === 'presumed leak'
      ? [{ visitor: v, ...verdict }]
      : [];
  });
  const longest = t.sightings.toSorted((a, b) => b.cause.length - a.cause.length)[0];
  const alias = t.sightings.find((s) => s.alias)?.alias;
  return (
    <article>
      <SoundingsSection title={`Tracker · ${t.kind}`}>
        <div className={css['opened']}>
          <h3 className={css['openedName']}>{t.name}</h3>
          <button
            type="button"
            aria-label="Close the tracker"
            className={css['close']}
            onClick={() => setQuery({ tracker: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        <p>
          {REACH_WORDS[t.kind] ?? 'Reaches'} <code>{t.host}</code>
          {longest?.party === 'third' ? ', another company' : ', this site'}
          {alias && (
            <>
              {' '}
              by its address: the name leads to <code>{alias}</code>
            </>
          )}
          . {valueWords(t)}
        </p>
        <Traits tracker={t} />
        <p className={css['dim']}>
          First seen {dateWords(t.firstSeen)}, last {whenWords(t.lastSeen)}
        </p>
      </SoundingsSection>
      {leaks.length > 0 && (
        <SoundingsSection title="Without permission">
          {leaks.map((l) => (
            <p key={l.visitor} className={css['leak']}>
              {l.verdict === 'leak' ? '◆' : '◈'} <b>{VISITOR_WORDS[l.visitor]}.</b> {l.why}
            </p>
          ))}
          <p className={css['dim']}>
            {regionName(t.terms.region)}: {leaks[0]?.law}.{' '}
            {t.leakingSince && `Without a break since the sweep of ${whenWords(t.leakingSince)}.`}
          </p>
        </SoundingsSection>
      )}
      <FixPanel
        host={host}
        tracker={t}
        leaks={leaks.some((l) => l.verdict === 'leak')}
        cause={longest?.cause ?? []}
      />
      <SoundingsSection title="Who put it there">
        {longest && longest.cause.length > 0 ? (
          <Chain cause={longest.cause} />
        ) : (
          <p>
            The browser held it, but no page was seen setting it: a worker of the site, or its server, may
            have.
          </p>
        )}
        <p>
          {longest && `Set by ${setByWords(longest)}, on `}
          {countWords(Math.max(0, ...t.sightings.map((s) => s.pages)), 'page')} of {t.pagesSwept}. First on{' '}
          <a href={longest?.firstPage} target="_blank" rel="noreferrer noopener">
            {pathOf(longest?.firstPage ?? '')}
          </a>
          .
        </p>
        <Pages tracker={t} />
      </SoundingsSection>
      <SoundingsSection title="As each visitor">
        <ul className={css['changes']}>
          {t.visitors.map((v) => {
            const verdict = t.verdicts[v];
            const sighting = t.sightings.find((s) => s.visitor === v);
            return (
              <li key={v}>
                <Mark verdict={verdict?.verdict} /> <b>{VISITOR_WORDS[v]}</b>{' '}
                {sighting
                  ? `${MOMENT_WORDS[sighting.moment]}, ${countWords(sighting.pages, 'page')}${sighting.refused ? `; refused: ${sighting.refused}` : ''}`
                  : 'not seen'}
              </li>
            );
          })}
        </ul>
        <OtherRegions tracker={t} purposes={purposes} />
      </SoundingsSection>
      <SoundingsSection title="Its purpose">
        <p>
          <b>{purposeName(purposes, t.purpose)}</b>
          {t.decidedBy
            ? `, decided by ${t.decidedBy}${t.decidedAt ? ` ${whenWords(t.decidedAt)}` : ''}`
            : t.purpose
              ? ', proposed'
              : '. Nothing was likely enough to propose.'}
          {t.because && <> because “{t.because}”</>}
        </p>
        {t.elsewhere.length > 0 && (
          <ul className={css['changes']}>
            {t.elsewhere.map((e) => (
              <li key={e.host} className={t.decidedBy && e.purpose !== t.purpose ? css['leak'] : undefined}>
                {t.decidedBy && e.purpose !== t.purpose ? '◆ ' : ''}
                {purposeName(purposes, e.purpose)} on {e.host}
                {e.by && `, decided by ${e.by}`}
              </li>
            ))}
          </ul>
        )}
        <Explanation
          title={`Why ${t.proposal.purpose ? `${purposeName(purposes, t.proposal.purpose)} is proposed, ${Math.round(t.proposal.confidence * 100)}% sure` : 'nothing is proposed'}`}
          grounds={t.proposal.reasons.map((r) => ({
            mark: '·' as const,
            words: `${r.words}${r.weight < 0 ? ', which speaks against' : ', which speaks for'} ${purposeName(purposes, r.purpose)}`,
            figure: `${r.weight > 0 ? '+' : '−'}${Math.abs(r.weight).toFixed(1)}`,
          }))}
        >
          <p className={css['dim']}>
            Weights are log-odds; the purpose with the largest sum is proposed when it holds 60% of the
            likelihood.
          </p>
        </Explanation>
      </SoundingsSection>
    </article>
  );
}

/** How a cookie is set, whether blocking ends it, and which stored values go out with a request. */
function Traits({ tracker: t }: { readonly tracker: OpenedTracker }) {
  const cookie = t.sightings.find((s) => s.cookie)?.cookie;
  const sends = [...new Map(t.sightings.flatMap((s) => s.sends).map((s) => [s.name + s.host, s])).values()];
  const traits = cookie && [
    cookie.httpOnly ? 'HttpOnly' : 'scripts can read it',
    `SameSite ${cookie.sameSite}`,
    cookie.secure ? 'Secure' : 'not Secure',
    ...(cookie.partitioned ? ['partitioned'] : []),
  ];
  return (
    <>
      {traits && <p className={css['dim']}>{traits.join(', ')}.</p>}
      {t.sightings.some((s) => s.blockable) && (
        <p className={css['dim']}>It does not survive where the browser blocks third-party cookies.</p>
      )}
      {sends.map((s) => (
        <p key={s.name + s.host} className={css['leak']}>
          ◆ It carries the visitor’s number from <code>{s.name}</code> in {s.where}
          {s.as === 'itself' ? '' : `, as ${s.as}`}.
        </p>
      ))}
    </>
  );
}

/** What the same sightings would mean under other laws. */
function OtherRegions({
  tracker: t,
  purposes,
}: {
  readonly tracker: OpenedTracker;
  readonly purposes: readonly Purpose[];
}) {
  const purpose = purposes.find((p) => p.code === t.purpose) ?? null;
  const table = useRegimes().data;
  const grounds = ['DK', 'GB', 'CH', 'US-CA', 'US', 'AU']
    .filter((r) => r !== t.terms.region)
    .map((region) => {
      const regime = regimeOf(region, table);
      const terms = { region, regime, chosen: t.terms.chosen };
      const leaks = leakingVisitors(purpose, t.sightings, terms, t.proposal.essential);
      return {
        mark: leaks.length > 0 ? ('◆' as const) : ('✓' as const),
        words: `${regionName(region)}, ${regime.regime}: ${
          leaks.length > 0
            ? `a leak ${leaks.map((v) => VISITOR_WORDS[v].toLowerCase()).join(', ')}`
            : 'no leak'
        }`,
      };
    });
  return <Explanation title="Under other laws" grounds={grounds} />;
}

function Pages({ tracker: t }: { readonly tracker: OpenedTracker }) {
  const pages = [...new Set(t.sightings.flatMap((s) => s.onPages))];
  if (pages.length < 2) return null;
  return (
    <details className={css['pages']}>
      <summary>Which pages</summary>
      <ul>
        {pages.slice(0, 50).map((p) => (
          <li key={p}>
            <a href={p} target="_blank" rel="noreferrer noopener">
              {pathOf(p)}
            </a>
          </li>
        ))}
      </ul>
    </details>
  );
}

const REACH_WORDS: Readonly<Partial<Record<OpenedTracker['kind'], string>>> = {
  fingerprint: 'Read by',
  'link decoration': 'In links to',
  bounce: 'Leads through',
};

const MOMENT_WORDS: Readonly<Record<Moment, string>> = {
  load: 'at once',
  scroll: 'once scrolled',
  wait: 'after a while',
  click: 'after a click',
  leave: 'on leaving',
};

/** From the page down to what set it. */
function Chain({ cause }: { readonly cause: readonly Cause[] }) {
  return (
    <ol className={css['chain']}>
      {cause.map((c, i) => (
        <li key={`${c.url} ${i}`}>
          <span>{CAUSE_WORDS[c.what]}</span> <code title={c.url}>{short(c.url)}</code>
          {c.line !== undefined && <span className={css['dim']}> line {c.line}</span>}
        </li>
      ))}
    </ol>
  );
}

const CAUSE_WORDS = {
  page: 'the page',
  script: 'runs the script',
  frame: 'holds the frame',
  style: 'uses the style sheet',
  response: 'gets the answer of',
} as const;

function valueWords(t: OpenedTracker): string {
  switch (t.kind) {
    case 'request':
      return `A request for ${RESOURCE_WORDS[t.sightings[0]?.resource ?? ''] ?? 'data'}; it tells ${t.host} the visitor’s address and the page.`;
    case 'link decoration':
      return 'A script puts it into links to that site, so that the visitor is recognised there.';
    case 'bounce':
      return 'A link leads through it on the way to another page, so that it sees the visitor at first hand.';
    case 'fingerprint':
      return 'It reads how this device draws, sounds or is set up, which recognises it without storing anything.';
    case 'service worker':
      return 'A script that stays in the browser and stands between the site and the network.';
    case 'IndexedDB':
    case 'cache storage':
      return 'A store in the browser that lives until it is cleared.';
    case 'cookie':
    case 'local storage':
    case 'session storage':
      break;
  }
  const s = t.sightings.toSorted((a, b) => b.valueBits - a.valueBits)[0];
  if (!s) return '';
  const life = lifetimeWords(
    t,
    Math.max(...t.sightings.map((x) => x.lifetime ?? -1)) < 0
      ? null
      : Math.max(...t.sightings.map((x) => x.lifetime ?? 0)),
  );
  const recognises =
    s.valueBits >= 24 ? `long enough to recognise a returning visitor` : 'too short to tell visitors apart';
  return `Its value has ${countWords(s.valueLength, 'character')}, about ${s.valueBits} bits: ${recognises}. It lives: ${life}.`;
}

const RESOURCE_WORDS: Readonly<Record<string, string>> = {
  image: 'a picture',
  script: 'a script',
  document: 'a frame',
  stylesheet: 'a style sheet',
  font: 'a font',
  media: 'sound or film',
  websocket: 'a socket',
  ping: 'a beacon',
};

function short(url: string): string {
  const plain = url.replace(/^https?:\/\//, '').replace(/\?.*/, '');
  return plain.length > 60 ? `${plain.slice(0, 30)}…${plain.slice(-28)}` : plain;
}

function pathOf(url: string): string {
  return URL.canParse(url) ? decodeURI(new URL(url).pathname) : url;
}
