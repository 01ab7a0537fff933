import type { KeptName } from '../core/websites/gate/gate-plan.ts';
import { matchesGlob } from '../core/websites/trackers/glob.ts';
import type { Left } from './interface.ts';

/** Deletes what purposes that were withdrawn have left in the browser; returns what is out of reach. */
export function deleteKept(
  window: Window & typeof globalThis,
  kept: readonly KeptName[],
  withdrawn: readonly string[],
): readonly Left[] {
  const { document, location } = window;
  const theirs = kept.filter((k) => withdrawn.includes(k.purpose));
  const still: Left[] = theirs.filter((k) => k.kind === 'other').map(left);
  for (const k of theirs.filter((t) => t.kind === 'cookie')) {
    const names = () =>
      document.cookie
        .split('; ')
        .map((c) => c.split('=')[0] ?? '')
        .filter((n) => n !== '' && matchesGlob(k.name, n));
    for (const name of names()) {
      // It may have been set for this host, for one above it, and for any path of the page's.
      const hosts = ['', ...location.hostname.split('.').map((_, i, all) => all.slice(i).join('.'))];
      const paths = location.pathname.split('/').map((_, i, all) => all.slice(0, i + 1).join('/') || '/');
      for (const domain of hosts)
        for (const path of new Set(['/', ...paths]))
          document.cookie = `${name}=; Max-Age=0; Path=${path}${domain && `; Domain=${domain}`}`;
    }
    if (names().length > 0) still.push(left(k));
  }
  for (const area of ['local storage', 'session storage'] as const) {
    try {
      const storage = area === 'local storage' ? window.localStorage : window.sessionStorage;
      const patterns = theirs.filter((t) => t.kind === area);
      for (const key of Object.keys(storage))
        if (patterns.some((k) => matchesGlob(k.name, key))) storage.removeItem(key);
    } catch {
      // Storage that is closed holds nothing.
    }
  }
  return still;
}

function left({ name, host, purpose }: KeptName): Left {
  return { name, host, purpose };
}
