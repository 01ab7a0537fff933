import { useState } from 'react';
import type { Fix } from '../../../core/websites/trackers/fix.ts';
import type { Cause } from '../../../core/websites/trackers/tracker.ts';
import { VISITOR_WORDS } from '../../../core/websites/trackers/visitor.ts';
import type { FixTrial } from '../../../server/websites/trackers/fix-trials.ts';
import type { OpenedTracker } from '../../../server/websites/trackers/trackers.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { DecideDialog } from './DecideDialog.tsx';
import { useDecide } from './decide.ts';
import { useSite } from '../sites/SiteSheet.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

const FIX_WORDS: Readonly<Record<Fix, string>> = {
  hold: 'Hold it at the gate',
  mark: 'Mark its tag in the page',
  remove: 'Take its tag out',
};

/** What can be done about a tracker: say what it is for, try a fix on a few pages, and put it in force. */
export function FixPanel({
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
  const mayTry = useMay('websites.sweep');
  const mayForce = useMay('websites.put-in-force');
  const [essential, setEssential] = useState(false);
  const [shown, setShown] = useState<Fix>();
  const purposes = site.data?.purposes ?? [];
  const purpose = purposes.find((p) => p.code === tracker.purpose && !p.essential);
  const running = tracker.trials.some((t) => t.state === 'running');
  if (!leaks && tracker.purpose !== null && !tracker.held && tracker.trials.length === 0) return null;
  const base = `/api${siteLink(host)}/trackers/${tracker.id}`;
  const act = async (work: () => Promise<unknown>, words: string, undo?: () => Promise<unknown>) => {
    try {
      await work();
      tell(words, undo ? { undo: async () => void (await undo()) } : {});
    } catch (e) {
      tellFailure(e);
    }
  };
  const letGo = () => request('DELETE', `${base}/hold`, {});
  const hold = () => request('POST', `${base}/hold`, { purpose: purpose?.code });
  const tryFix = (fix: Fix) =>
    act(
      () => request('POST', `${base}/trial`, { fix, purpose: purpose?.code }),
      'Trying it on a few pages. You can leave this page.',
    );
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
      {tracker.held && (
        <div className={css['held']}>
          <b>In force.</b> The gate holds{' '}
          <code>
            {tracker.held.hold.kind === 'request' ? tracker.held.hold.host : ''}
            {tracker.held.hold.name}
          </code>{' '}
          since {whenWords(tracker.held.since)}
          {tracker.held.by && `, by ${tracker.held.by}`}.{' '}
          {mayForce && (
            <Button onClick={() => void act(letGo, 'The gate lets it go again.', hold)}>Take it back</Button>
          )}
        </div>
      )}
      {purpose && !tracker.held && (
        <div className={css['acts']}>
          {fixesFor(tracker, cause)
            .filter((f) => f !== 'hold' || tracker.holdable)
            .map((fix, i) => (
              <Button
                key={fix}
                kind={i === 0 ? 'primary' : 'plain'}
                aria-expanded={shown === fix}
                onClick={() => setShown(shown === fix ? undefined : fix)}
              >
                {FIX_WORDS[fix]}
              </Button>
            ))}
          {mayEdit && <Button onClick={() => setEssential(true)}>It is essential, because …</Button>}
        </div>
      )}
      {purpose && shown && (
        <>
          <HowTo fix={shown} tracker={tracker} cause={cause} purpose={purpose} />
          <div className={css['acts']}>
            {mayTry && (
              <Button busy={running} onClick={() => void tryFix(shown)}>
                {running ? 'Being tried' : 'Try it on a few pages'}
              </Button>
            )}
            {mayForce && shown === 'hold' && (
              <Button kind="primary" onClick={() => void act(hold, 'In force: the gate holds it.', letGo)}>
                Put it in force
              </Button>
            )}
          </div>
        </>
      )}
      {tracker.trials.map((t) => (
        <Trial key={t.id} trial={t} />
      ))}
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

/** The likeliest to help first: what stands in the page’s own HTML has to be marked there. */
function fixesFor(tracker: OpenedTracker, cause: readonly Cause[]): readonly Fix[] {
  const written = tracker.kind !== 'request' && cause.length === 1;
  return written ? ['hold', 'mark', 'remove'] : ['mark', 'hold', 'remove'];
}

function HowTo({
  fix,
  tracker,
  cause,
  purpose,
}: {
  readonly fix: Fix;
  readonly tracker: OpenedTracker;
  readonly cause: readonly Cause[];
  readonly purpose: { readonly code: string; readonly name: string };
}) {
  const tag =
    cause.slice(1).find((c) => c.what === 'script' || c.what === 'frame') ??
    cause.findLast((c) => c.what === 'response');
  const [page] = cause;
  switch (fix) {
    case 'hold':
      return (
        <p>
          The gate keeps back what scripts ask for and write until {purpose.name} is allowed, without a change
          to the site. A tag in the page’s own HTML is asked for before any script can say no: mark that one.
        </p>
      );
    case 'mark':
      return (
        <>
          <p>
            Have the web team write its tag like this{page?.line ? `, line ${page.line} of the page` : ''}:
          </p>
          <CopyText label="Held tag" text={heldTag(tag, tracker, purpose.code)} />
          <p className={css['dim']}>
            The gate runs it as soon as the visitor allows {purpose.name}, and never after a refusal.
          </p>
        </>
      );
    case 'remove':
      return (
        <p>
          Have the web team take the tag out{page?.line ? `, line ${page.line} of the page` : ''}: nobody gets
          it then, not even who allows {purpose.name}.
        </p>
      );
  }
}

/** What the trial of a fix came to. */
function Trial({ trial }: { readonly trial: FixTrial }) {
  const { outcome } = trial;
  if (trial.state === 'running')
    return <p className={css['trial']}>○ {FIX_WORDS[trial.fix]}: being tried …</p>;
  if (!outcome)
    return (
      <p className={css['leak']}>
        ◆ {FIX_WORDS[trial.fix]}: the trial failed. Try again, or sweep the site first.
      </p>
    );
  const without = outcome.visitors.filter((v) => v.visitor !== 'accepted');
  const works = without.length > 0 && without.every((v) => v.tried && !v.after);
  return (
    <div className={css['trial']}>
      <p>
        <b>
          {works ? '✓' : '◆'} {FIX_WORDS[trial.fix]}: {works ? 'it helps' : 'it does not help'}
        </b>{' '}
        <span className={css['dim']}>
          tried {whenWords(trial.created_at)} on {countWords(outcome.pages.length, 'page')}
        </span>
      </p>
      <ul>
        {outcome.visitors.map((v) => (
          <li key={v.visitor}>
            {VISITOR_WORDS[v.visitor]}:{' '}
            {v.tried ? (v.after ? 'still seen' : 'not seen any more') : 'could not be tried'}
          </li>
        ))}
      </ul>
      {outcome.tags === 0 && (
        <p>Its tag was not found in the pages’ HTML: a script puts it there. Hold it at the gate.</p>
      )}
      {!works && trial.fix === 'hold' && (
        <p>Its tag stands in the page’s own HTML, which the browser asks for first: mark it there.</p>
      )}
      {outcome.alsoGone.length > 0 && <p>Kept back with it: {outcome.alsoGone.join(', ')}.</p>}
      {outcome.installed && (
        <p className={css['dim']}>
          The notice’s line was put into the pages for the trial: they do not have it yet.
        </p>
      )}
    </div>
  );
}

function heldTag(tag: Cause | undefined, tracker: OpenedTracker, purpose: string): string {
  const self = tracker.kind === 'request' ? `//${tracker.host}${tracker.name}` : '…';
  const src = tag ? tag.url.replace(/^https?:/, '').replace(/\?.*/, '') : self;
  if (tag?.what === 'frame') return `<iframe data-yare-purpose="${purpose}" data-yare-src="${src}"></iframe>`;
  return `<script type="text/plain" data-yare-purpose="${purpose}" src="${src}"></script>`;
}
