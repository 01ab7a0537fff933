import type { KeptName } from '../core/websites/gate/gate-plan.ts';
import type { GateHold } from '../core/websites/trackers/fix.ts';
import { matchesGlob } from '../core/text/glob.ts';
import type { Left } from './interface.ts';

/** Where what is held would be kept. */
const KEPT_AS: Readonly<Partial<Record<GateHold['kind'], KeptName['kind']>>> = {
  ...{ cookie: 'cookie', storage: 'local storage', database: 'IndexedDB' },
  ...{ cache: 'cache storage', worker: 'service worker' },
};

/** What may be left, where the service did not say. */
export function keptByHolds(holds: readonly GateHold[]): readonly KeptName[] {
  return holds.flatMap(({ kind, name, host, purpose }): KeptName[] => {
    const kept = KEPT_AS[kind];
    return kept ? [{ kind: kept, name, host, purpose }] : [];
  });
}

/** Deletes what purposes that were withdrawn have left in the browser; returns what is out of reach. */
export async function deleteKept(
  window: Window & typeof globalThis,
  kept: readonly KeptName[],
  withdrawn: readonly string[],
): Promise<readonly Left[]> {
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
  for (const kind of ['IndexedDB', 'cache storage', 'service worker'] as const) {
    const patterns = theirs.filter((t) => t.kind === kind);
    if (patterns.length === 0) continue;
    try {
      for (const { name, remove } of await KEEPERS[kind](window))
        if (patterns.some((k) => matchesGlob(k.name, name))) await remove();
    } catch {
      // A browser that does not tell what it keeps.
      still.push(...patterns.map(left));
    }
  }
  return still;
}

interface Kept {
  readonly name: string;
  readonly remove: () => Promise<unknown>;
}

const KEEPERS: Readonly<
  Record<
    'IndexedDB' | 'cache storage' | 'service worker',
    (window: Window & typeof globalThis) => Promise<readonly Kept[]>
  >
> = {
  IndexedDB: async ({ indexedDB }) =>
    (await indexedDB.databases()).map(({ name = '' }) => ({
      name,
      remove: () =>
        new Promise<void>((done, failed) => {
          const request = indexedDB.deleteDatabase(name);
          // While the page has it open it goes once the page does.
          request.onsuccess = request.onblocked = () => done();
          request.onerror = () => failed(new Error(name));
        }),
    })),
  'cache storage': async ({ caches }) =>
    (await caches.keys()).map((name) => ({ name, remove: () => caches.delete(name) })),
  'service worker': async ({ navigator }) =>
    (await navigator.serviceWorker.getRegistrations()).map((r) => ({
      name: new URL((r.active ?? r.waiting ?? r.installing)?.scriptURL ?? 'about:blank').pathname,
      remove: () => r.unregister(),
    })),
};

function left({ name, host, purpose }: KeptName): Left {
  return { name, host, purpose };
}
