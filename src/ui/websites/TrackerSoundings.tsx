import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import { setByWords } from '../../core/websites/proposal.ts';
import { purposeName } from '../../core/websites/purpose.ts';
import { lifetimeWords, type Cause } from '../../core/websites/tracker.ts';
import { VISITOR_WORDS, VISITORS } from '../../core/websites/visitor.ts';
import type { OpenedTracker } from '../../server/websites/trackers.ts';
import { useMay } from '../desk/account-context.ts';
import { setQuery } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { countWords, dateWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { CopyText } from '../parts/CopyText.tsx';
import { Explanation } from '../parts/Explanation.tsx';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { DecideDialog } from './DecideDialog.tsx';
import { useDecide } from './decide.ts';
import { useSite } from './SiteSheet.tsx';
import { siteLink } from './WebsitesArea.tsx';
import css from './websites.module.css';

/** One tracker: what it is, where it runs without permission and why that is wrong, who put it there, what to do. */
export function TrackerSoundings({ host, id }: { readonly host: string; readonly id: string }) {
  const site = useSite(host);
  const tracker = useQuery({
    queryKey: ['tracker', host, id],
    queryFn: () => request<OpenedTracker>('GET', `/api${siteLink(host)}/trackers/${id}`),
  });
  if (tracker.isError) return <Failure error={tracker.error} onRetry={() => void tracker.refetch()} />;
  if (!tracker.data || !site.data) return <Loading what="the tracker" />;
  const t = tracker.data;
  const purposes = site.data.purposes;
  const leaks = VISITORS.flatMap((v) => {
    const verdict = t.verdicts[v];
    return verdict?.verdict === 'leak' ? [{ visitor: v, ...verdict }] : [];
  });
  const longest = t.sightings.toSorted((a, b) => b.cause.length - a.cause.length)[0];
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
          Reaches <code>{t.host}</code>
          {longest?.party === 'third' ? ', another company' : ', this site'}. {valueWords(t)}
        </p>
        <p className={css['dim']}>
          First seen {dateWords(t.firstSeen)}, last {whenWords(t.lastSeen)}
        </p>
      </SoundingsSection>
      {leaks.length > 0 && (
        <SoundingsSection title="Without permission">
          {leaks.map((l) => (
            <p key={l.visitor} className={css['leak']}>
              ◆ <b>{VISITOR_WORDS[l.visitor]}.</b> {l.why}
            </p>
          ))}
          <p className={css['dim']}>{leaks[0]?.law}.</p>
        </SoundingsSection>
      )}
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
      </SoundingsSection>
      <WhatToDo host={host} tracker={t} leaks={leaks.length > 0} cause={longest?.cause ?? []} />
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

function WhatToDo({
  host,
  tracker,
  leaks,
  cause,
}: {
  readonly host: string;
  readonly tracker: OpenedTracker;
  readonly leaks: boolean;
  readonly cause: readonly Cause[];
}) {
  const site = useSite(host);
  const decide = useDecide(host);
  const mayEdit = useMay('websites.edit');
  const [holding, setHolding] = useState(false);
  const [essential, setEssential] = useState(false);
  const purposes = site.data?.purposes ?? [];
  const tag =
    cause.find((c) => c.what === 'script' || c.what === 'frame') ??
    cause.findLast((c) => c.what === 'response');
  const purpose = purposes.find((p) => p.code === tracker.purpose && !p.essential);
  if (!leaks && tracker.purpose !== null) return null;
  return (
    <SoundingsSection title="What to do">
      {tracker.purpose === null && (
        <>
          <p>Say what it is for:</p>
          <div className={css['acts']}>
            {mayEdit &&
              purposes.map((p) => (
                <Button
                  key={p.code}
                  onClick={() => (p.essential ? setEssential(true) : void decide([tracker.id], p.code, ''))}
                >
                  {p.name}
                </Button>
              ))}
          </div>
        </>
      )}
      {purpose && (
        <div className={css['acts']}>
          <Button kind="primary" aria-expanded={holding} onClick={() => setHolding(!holding)}>
            Hold it until {purpose.name} is allowed
          </Button>
          {mayEdit && <Button onClick={() => setEssential(true)}>It is essential, because …</Button>}
        </div>
      )}
      {purpose && holding && (
        <>
          <p>
            Have the web team write its tag like this, and sweep again.{' '}
            {tag ? '' : 'Its own tag could not be traced, so mark the script that sets it.'}
          </p>
          <CopyText label="Held tag" text={heldTag(tag, tracker, purpose.code)} />
          <p className={css['dim']}>
            The gate runs it as soon as the visitor allows {purpose.name}, and never after a refusal.
          </p>
        </>
      )}
      {essential && (
        <DecideDialog
          names={tracker.name}
          onClose={() => setEssential(false)}
          onDecide={async (because) => {
            await decide([tracker.id], 'essential', because, true);
            setEssential(false);
          }}
        />
      )}
    </SoundingsSection>
  );
}

function heldTag(tag: Cause | undefined, tracker: OpenedTracker, purpose: string): string {
  const self = tracker.kind === 'request' ? `//${tracker.host}${tracker.name}` : '…';
  const src = tag ? tag.url.replace(/^https?:/, '').replace(/\?.*/, '') : self;
  if (tag?.what === 'frame') return `<iframe data-yare-purpose="${purpose}" data-yare-src="${src}"></iframe>`;
  return `<script type="text/plain" data-yare-purpose="${purpose}" src="${src}"></script>`;
}

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
  response: 'gets the answer of',
} as const;

function valueWords(t: OpenedTracker): string {
  if (t.kind === 'request')
    return `A request for ${RESOURCE_WORDS[t.sightings[0]?.resource ?? ''] ?? 'data'}; it tells ${t.host} the visitor’s address and the page.`;
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
