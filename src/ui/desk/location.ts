import { useSyncExternalStore } from 'react';
import { isArea, loadView, viewOf } from './views.ts';

/** The address bar is where the desk keeps what is open: area, object, tab, filter. */
const CHANGED = 'yare:location';

export interface DeskLocation {
  /** The first path segment. */
  readonly area: string;
  /** Decoded path segments after the area. */
  readonly path: readonly string[];
  readonly query: URLSearchParams;
}

let cached: { href: string; value: DeskLocation } | undefined;

function read(): DeskLocation {
  const { href, pathname, search } = window.location;
  if (cached?.href !== href) {
    const [, area = '', ...path] = pathname.split('/');
    cached = {
      href,
      value: { area, path: path.filter(Boolean).map(decodeURIComponent), query: new URLSearchParams(search) },
    };
  }
  return cached.value;
}

function subscribe(listener: () => void): () => void {
  window.addEventListener('popstate', listener);
  window.addEventListener(CHANGED, listener);
  return () => {
    window.removeEventListener('popstate', listener);
    window.removeEventListener(CHANGED, listener);
  };
}

export function useDeskLocation(): DeskLocation {
  return useSyncExternalStore(subscribe, read);
}

/** Goes to an address; what another area shows is loaded first, and what is no area is left to the browser. */
export function go(address: string, how: 'push' | 'replace' = 'push'): void {
  const url = new URL(address, window.location.href);
  const [, area] = url.pathname.split('/');
  const [, here] = window.location.pathname.split('/');
  if (url.origin !== window.location.origin || !isArea(area)) return window.location.assign(url);
  if (url.href === window.location.href) return;
  const arrive = () => {
    history[how === 'push' ? 'pushState' : 'replaceState'](null, '', url);
    window.dispatchEvent(new Event(CHANGED));
  };
  if (area === here || viewOf(area as string)) return arrive();
  loadView(area as string).then(arrive, () => window.location.assign(url));
}

/** Changes some of the query and leaves the rest; `null` takes a key out. */
export function setQuery(
  values: Readonly<Record<string, string | null>>,
  how: 'push' | 'replace' = 'replace',
): void {
  const url = new URL(window.location.href);
  for (const [key, value] of Object.entries(values)) {
    if (value === null || value === '') url.searchParams.delete(key);
    else url.searchParams.set(key, value);
  }
  go(url.href, how);
}
