import type { Natives } from './natives.ts';
import type { Report } from './told.ts';

/**
 * Runs in the page: watches what is written to the visitor's device, and which links are rewritten. Nothing in it is taken apart
 * by `[a, b] =` or spread, which a page can change. What it gives back takes up what was not there yet: a service worker gets some
 * of its world only after this has run.
 */
export function watchWrites(report: Report, natives: Natives): () => void {
  type Any = Record<string, unknown>;
  type Method = (this: unknown, ...args: unknown[]) => unknown;
  const { apply, construct, define, descriptor, get, set, slice, indexOf, text, settled, newUrl } = natives;
  const global = globalThis as unknown as Record<string, { prototype: Any } | undefined>;
  const wrap = (owner: string, method: string, make: (native: Method) => Method) => {
    const proto = global[owner]?.prototype;
    const native = proto?.[method] as Method | undefined;
    if (proto && typeof native === 'function') proto[method] = make(native);
  };
  const wrapSetter = (
    owner: object | undefined,
    property: string,
    after: (self: unknown, value: unknown, set: (v: unknown) => void, get: () => unknown) => void,
  ) => {
    if (!owner) return;
    const was = descriptor(owner, property);
    if (!was?.set || !was.get || !was.configurable) return;
    const setter = was.set as Method;
    const getter = was.get as Method;
    define(owner, property, {
      get: was.get,
      enumerable: was.enumerable ?? false,
      configurable: true,
      set(this: unknown, value: unknown) {
        after(
          this,
          value,
          (v) => void apply(setter, this, [v]),
          () => apply(getter, this, []),
        );
      },
    });
  };
  /** Whether a cookie of this name stands in what `document.cookie` gives. */
  const holds = (cookies: string, name: string): boolean => {
    const all = `; ${cookies};`;
    return indexOf(all, `; ${name}=`) >= 0 || (name !== '' && indexOf(all, `; ${name};`) >= 0);
  };
  const upTo = (line: string, sign: string): string => {
    const at = indexOf(line, sign);
    return at < 0 ? line : slice(line, 0, at);
  };
  const trimmed = (line: string): string => {
    let from = 0;
    let to = line.length;
    while (from < to && (line[from] === ' ' || line[from] === '\t')) from++;
    while (to > from && (line[to - 1] === ' ' || line[to - 1] === '\t')) to--;
    return slice(line, from, to);
  };

  wrapSetter(global['Document']?.prototype, 'cookie', (_self, value, setCookie, cookies) => {
    const line = text(value);
    try {
      setCookie(value);
    } catch (error) {
      report('cookie', line, '', text((error as Error).message));
      throw error;
    }
    const pair = upTo(line, ';');
    const name = indexOf(pair, '=') < 0 ? '' : trimmed(upTo(pair, '='));
    const kept = name === '' ? holds(text(cookies()), trimmed(pair)) : holds(text(cookies()), name);
    report('cookie', line, '', kept ? '' : '?');
  });
  wrap(
    'CookieStore',
    'set',
    (native) =>
      function (...args) {
        const first = args[0];
        const second = args[1];
        const options = (
          typeof first === 'object' && first !== null ? first : { name: first, value: second }
        ) as Any;
        let line = '';
        try {
          const expires =
            typeof options['expires'] === 'number' ? new Date(options['expires']).toUTCString() : '';
          line =
            `${text(options['name'])}=${text(options['value'])}` +
            (options['domain'] ? `; Domain=${text(options['domain'])}` : '') +
            (expires ? `; Expires=${expires}` : '') +
            `; Secure; SameSite=${text(options['sameSite'] ?? 'strict')}` +
            (options['partitioned'] ? '; Partitioned' : '');
        } catch {
          // An object that does not let itself be read: the browser will say the same.
        }
        const done = apply(native, this, args);
        settled(done, (error) => report('cookie', line, '', error));
        return done;
      },
  );

  const real = natives.weakMap();
  const unwrap = (self: unknown) =>
    ((typeof self === 'object' && self !== null && real.get(self)) || self) as Storage;
  const areaOf = (storage: Storage) => {
    try {
      return storage === unwrap(globalThis.sessionStorage) ? 'session storage' : 'local storage';
    } catch {
      return 'local storage';
    }
  };
  const write = (storage: Storage, key: string, value: string, act: () => unknown) => {
    try {
      const result = act();
      report(areaOf(storage), key, value);
      return result;
    } catch (error) {
      report(areaOf(storage), key, value, text((error as Error).name));
      throw error;
    }
  };
  for (const method of ['getItem', 'removeItem', 'clear', 'key'])
    wrap(
      'Storage',
      method,
      (native) =>
        function (...args) {
          return apply(native, unwrap(this), args);
        },
    );
  wrap(
    'Storage',
    'setItem',
    (native) =>
      function (...args) {
        const storage = unwrap(this);
        if (args.length < 2) return apply(native, storage, args);
        const key = text(args[0]);
        const value = text(args[1]);
        return write(storage, key, value, () => apply(native, storage, [key, value]));
      },
  );
  const storageProto = global['Storage']?.prototype;
  const length = storageProto && descriptor(storageProto, 'length');
  if (storageProto && length?.get) {
    const getLength = length.get as Method;
    define(storageProto, 'length', {
      enumerable: length.enumerable ?? false,
      configurable: true,
      get(this: unknown) {
        return apply(getLength, unwrap(this), []) as number;
      },
    });
  }
  // Keys may also be written as properties, which no method sees.
  const RealProxy = Proxy;
  for (const area of ['localStorage', 'sessionStorage']) {
    const owner = descriptor(globalThis, area) ? globalThis : global['Window']?.prototype;
    const was = owner && descriptor(owner, area);
    if (!owner || !was?.get || !was.configurable) continue;
    const getArea = was.get as Method;
    const proxies = natives.weakMap();
    define(owner, area, {
      enumerable: was.enumerable ?? false,
      configurable: true,
      get(this: unknown) {
        const storage = apply(getArea, this ?? globalThis, []) as Storage | null;
        if (!storage) return storage;
        const known = proxies.get(storage);
        if (known) return known;
        const proxy = new RealProxy(storage, {
          get: (target, key) => get(target, key, target),
          set: (target, key, value) =>
            typeof key === 'symbol'
              ? set(target, key, value, target)
              : (write(target, key, text(value), () => set(target, key, value, target)) as boolean),
        });
        proxies.set(storage, proxy);
        real.set(proxy, storage);
        return proxy;
      },
    });
  }

  const tellsName = (owner: string, method: string, kind: Parameters<Report>[0]) =>
    wrap(
      owner,
      method,
      (native) =>
        function (...args) {
          report(kind, text(args[0]));
          return apply(native, this, args);
        },
    );
  tellsName('IDBFactory', 'open', 'IndexedDB');
  tellsName('IDBFactory', 'deleteDatabase', 'IndexedDB gone');
  let cachesWatched = false;
  const watchCaches = () => {
    if (cachesWatched || !global['CacheStorage']) return;
    cachesWatched = true;
    tellsName('CacheStorage', 'open', 'cache storage');
    tellsName('CacheStorage', 'delete', 'cache storage gone');
  };
  watchCaches();
  wrap(
    'ServiceWorkerContainer',
    'register',
    (native) =>
      function (...args) {
        let url = '';
        try {
          url = newUrl(text(args[0]), location.href);
          report('service worker', url);
        } catch {
          // No address: the browser will refuse it.
        }
        const done = apply(native, this, args);
        settled(done, (error) => error && url && report('service worker', url, '', slice(error, 0, 200)));
        return done;
      },
  );

  for (const name of ['Worker', 'SharedWorker']) {
    const native = (globalThis as unknown as Any)[name];
    if (typeof native !== 'function') continue;
    (globalThis as unknown as Any)[name] = new RealProxy(native as never, {
      construct: (target, args: unknown[], made) => {
        try {
          report('worker', newUrl(text(args[0]), document.baseURI));
        } catch {
          // No address: the browser will refuse it.
        }
        return construct(target, args, made);
      },
    });
  }

  const anchor = global['HTMLAnchorElement']?.prototype;
  const hrefOf = anchor && (descriptor(anchor, 'href')?.get as Method | undefined);
  const nameOf =
    global['Element'] && (descriptor(global['Element'].prototype, 'localName')?.get as Method | undefined);
  const rewritten = (self: unknown, act: () => void) => {
    const before = hrefOf ? text(apply(hrefOf, self, [])) : '';
    act();
    const after = hrefOf ? text(apply(hrefOf, self, [])) : '';
    if (after !== before && (indexOf(after, 'http:') === 0 || indexOf(after, 'https:') === 0))
      report('link', after, before);
  };
  for (const property of ['href', 'search'])
    wrapSetter(anchor, property, (self, value, setLink) => rewritten(self, () => setLink(value)));
  wrap(
    'Element',
    'setAttribute',
    (native) =>
      function (...args) {
        const link =
          typeof args[0] === 'string' &&
          natives.lower(args[0]) === 'href' &&
          nameOf !== undefined &&
          apply(nameOf, this, []) === 'a';
        if (!link) return apply(native, this, args);
        return rewritten(this, () => void apply(native, this, args));
      },
  );
  return watchCaches;
}
