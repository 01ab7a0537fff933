import type { HeldBack } from './held-back.ts';
import { failing, wrap, wrapSetter, type Method, type Realm } from './natives.ts';

/** What scripts keep in the browser: not kept where it has to wait. Taking something away is never held. */
export function holdWrites(window: Realm, holds: HeldBack): void {
  wrapSetter(
    window.Document.prototype,
    'cookie',
    (native) =>
      function (line) {
        const text = String(line);
        if (
          /;\s*(max-age\s*=\s*(0|-)|expires\s*=[^;]*\b19[67]\d)/i.test(text) ||
          !holds.holdsWrite('cookie', text.split('=')[0]?.trim() ?? '')
        )
          native.call(this, line);
      },
  );
  const more = window as { CookieStore?: { prototype: object }; CacheStorage?: { prototype: object } };
  wrap(
    more.CookieStore?.prototype,
    'set',
    (native) =>
      async function (...args) {
        const name = String((args[0] as { name?: string } | null)?.name ?? args[0]);
        if (!holds.holdsWrite('cookie', name)) await native.apply(this, args);
      },
  );
  if (holds.holds.some((h) => h.kind === 'storage')) holdStorage(window, holds);
  const refuse = () => new window.DOMException('Held until it is allowed.', 'UnknownError');
  wrap(
    window.IDBFactory?.prototype,
    'open',
    (native) =>
      function (...args) {
        return holds.holdsWrite('database', String(args[0]))
          ? failing(window, window.IDBOpenDBRequest.prototype, {
              ...{ error: refuse(), result: undefined, readyState: 'done', transaction: null, source: null },
              ...{ onblocked: null, onupgradeneeded: null },
            })
          : native.apply(this, args);
      },
  );
  const refuses =
    (kind: 'cache' | 'worker', nameOf: (given: unknown) => string) =>
    (native: Method): Method =>
      function (...args) {
        return holds.holdsWrite(kind, nameOf(args[0])) ? Promise.reject(refuse()) : native.apply(this, args);
      };
  wrap(more.CacheStorage?.prototype, 'open', refuses('cache', String));
  wrap(
    (window as { ServiceWorkerContainer?: { prototype: object } }).ServiceWorkerContainer?.prototype,
    'register',
    refuses('worker', (given) => {
      const url = String(given);
      return URL.canParse(url, window.document.baseURI)
        ? new URL(url, window.document.baseURI).pathname
        : url;
    }),
  );
}

/** A key can be written by a method and like any property; the page must not see that something stands before it. */
function holdStorage(window: Realm, holds: HeldBack): void {
  const behind = new WeakMap<object, Storage>();
  const before = new WeakMap<Storage, object>();
  for (const name of ['localStorage', 'sessionStorage'] as const) {
    let native: Storage;
    try {
      native = window[name];
    } catch {
      continue;
    }
    const front = new Proxy(native, {
      get: (storage, key) => Reflect.get(storage, key, storage) as unknown,
      set: (storage, key, value) =>
        (typeof key === 'string' && !(key in window.Storage.prototype) && holds.holdsWrite('storage', key)) ||
        Reflect.set(storage, key, value, storage),
      defineProperty: (storage, key, what) =>
        holds.holdsWrite('storage', String(key)) || Reflect.defineProperty(storage, key, what),
    });
    behind.set(front, native);
    before.set(native, front);
    Object.defineProperty(window, name, { configurable: true, enumerable: true, get: () => front });
  }
  const real = (storage: unknown) => behind.get(storage as object) ?? storage;
  for (const method of ['getItem', 'setItem', 'removeItem', 'clear', 'key'])
    wrap(
      window.Storage.prototype,
      method,
      (native) =>
        function (...args) {
          if (method === 'setItem' && holds.holdsWrite('storage', String(args[0]))) return undefined;
          return native.apply(real(this), args);
        },
    );
  const area = Object.getOwnPropertyDescriptor(window.StorageEvent.prototype, 'storageArea');
  if (area?.get)
    Object.defineProperty(window.StorageEvent.prototype, 'storageArea', {
      ...area,
      get(this: StorageEvent) {
        const native = area.get?.call(this) as Storage;
        return before.get(native) ?? native;
      },
    });
}
