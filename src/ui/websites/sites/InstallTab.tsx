import { useState } from 'react';
import { heldScriptExample } from '../../../core/websites/trackers/install.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { siteLink } from '../links.ts';
import { SiteAddresses } from './SiteAddresses.tsx';
import css from '../websites.module.css';

export function InstallTab({ site }: { readonly site: SiteDetail }) {
  const mayCheck = useMay('websites.sweep');
  const [busy, setBusy] = useState(false);
  const check = async () => {
    setBusy(true);
    try {
      await request('POST', `/api${siteLink(site.host)}/install-check`, {});
      tell('A browser is looking at the start page.');
    } catch (e) {
      tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className={css['install']}>
      <h2 className={css['h2']}>The line</h2>
      <p>
        Put it first in the head of every page, before any other script. It shows the notice, keeps the
        choice, and lets go of what was allowed.
      </p>
      <CopyText label="The line for the head" text={site.snippet} />
      <h2 className={css['h2']}>What waits</h2>
      <p>
        A tag that is not essential waits when it is written like this. Frames and pictures take{' '}
        <code>data-yare-src</code> in place of <code>src</code>.
      </p>
      {site.purposes
        .filter((p) => !p.essential)
        .map((p) => (
          <CopyText key={p.code} label={`A script held for ${p.name}`} text={heldScriptExample(p.code)} />
        ))}
      <p>
        To let visitors change their mind, put <code>data-yare-open</code> on a link or button of every page.
      </p>
      <h2 className={css['h2']}>Is it there?</h2>
      {site.install ? (
        <>
          <p className={css['dim']}>Checked {whenWords(site.install.at)}</p>
          <ul className={css['steps']}>
            {site.install.steps.map((s) => (
              <li key={s.words} data-met={s.met || undefined}>
                {s.met ? '✓' : '◆'} {s.words}
                {!s.met && <span className={css['dim']}> {s.fix}</span>}
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p className={css['dim']}>Never checked.</p>
      )}
      {mayCheck && (
        <Button kind="primary" busy={busy} onClick={() => void check()}>
          {site.install ? 'Check again with a browser' : 'Check with a browser'}
        </Button>
      )}
      <SiteAddresses host={site.host} />
    </div>
  );
}
