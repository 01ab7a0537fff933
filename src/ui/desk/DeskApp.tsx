import { useEffect, useState } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { AREAS } from '../areas.ts';
import { Failure, Loading } from '../parts/states.tsx';
import { Desk } from './Desk.tsx';
import { go, useDeskLocation } from './location.ts';
import { isArea, loadView, viewOf } from './views.ts';

/** The whole desk: the area that the address names, loaded when it is first come to. */
export function DeskApp({ account }: { readonly account: Account }) {
  const { area } = useDeskLocation();
  const [, setLoads] = useState(0);
  const [failed, setFailed] = useState<Error>();
  const View = viewOf(area);
  const name = AREAS.find((a) => a.area === area)?.name ?? '';
  useEffect(() => {
    document.title = `${name} · Yare Warden`;
  }, [name]);
  useEffect(() => {
    if (View) return;
    loadView(area).then(
      () => setLoads((n) => n + 1),
      (error: Error) => setFailed(error),
    );
  }, [area, View]);
  useEffect(() => {
    document.addEventListener('click', follow);
    return () => document.removeEventListener('click', follow);
  }, []);
  if (!View) {
    // As after an upgrade of the server: the page anew has what is there now.
    const wait = failed ? (
      <Failure error={failed} onRetry={() => window.location.reload()} />
    ) : (
      <Loading what={name} />
    );
    return <Desk account={account} area={area} sheet={wait} />;
  }
  return <View key={area} account={account} />;
}

/** Links to places of the desk are gone to without loading the page, unless they are to be opened elsewhere. */
function follow(e: MouseEvent): void {
  if (e.defaultPrevented || e.button !== 0 || e.ctrlKey || e.metaKey || e.shiftKey || e.altKey) return;
  const link = (e.target as Element | null)?.closest?.('a[href]');
  if (!(link instanceof HTMLAnchorElement) || link.target || link.hasAttribute('download')) return;
  const [, area] = link.pathname.split('/');
  if (link.origin !== window.location.origin || !isArea(area) || link.getAttribute('href')?.startsWith('#'))
    return;
  e.preventDefault();
  go(link.href);
}
