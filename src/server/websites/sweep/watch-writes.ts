import type { Report } from './probe-script.ts';

/** Runs in the page: watches what is written to the visitor's device, and which links are rewritten. */
export function watchWrites(report: Report, where: () => string[]): void {
  type Any = Record<string, unknown>;
  type Method = (this: unknown, ...args: unknown[]) => unknown;
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
    const descriptor = Object.getOwnPropertyDescriptor(owner, property);
    if (!descriptor?.set || !descriptor.get || !descriptor.configurable) return;
    const { set, get } = descriptor;
    Object.defineProperty(owner, property, {
      ...descriptor,
      set(this: unknown, value: unknown) {
        after(
          this,
          value,
          (v) => set.call(this, v),
          () => get.call(this),
        );
      },
    });
  };

  wrapSetter(global['Document']?.prototype, 'cookie', (_self, value, set, get) => {
    const frames = where();
    const line = String(value);
    try {
      set(value);
    } catch (error) {
      report('cookie', line, '', (error as Error).message, frames);
      throw error;
    }
    const name = line.split(';')[0]?.split('=')[0]?.trim() ?? '';
    const kept = String(get())
      .split('; ')
      .some((c) => c === name || c.startsWith(`${name}=`));
    report('cookie', line, '', kept ? '' : '?', frames);
  });
  wrap(
    'CookieStore',
    'set',
    (native) =>
      function (...args) {
        const frames = where();
        const [first, second] = args;
        const options = (
          typeof first === 'object' && first !== null ? first : { name: first, value: second }
        ) as Any;
        const expires =
          typeof options['expires'] === 'number' ? new Date(options['expires']).toUTCString() : '';
        const line =
          `${String(options['name'])}=${String(options['value'])}` +
          (options['domain'] ? `; Domain=${String(options['domain'])}` : '') +
          (expires ? `; Expires=${expires}` : '') +
          `; Secure; SameSite=${String(options['sameSite'] ?? 'strict')}` +
          (options['partitioned'] ? '; Partitioned' : '');
        const done = native.apply(this, args) as Promise<unknown>;
        done.then(
          () => report('cookie', line, '', '', frames),
          (error: Error) => report('cookie', line, '', error.message, frames),
        );
        return done;
      },
  );

  const real = new WeakMap<object, object>();
  const unwrap = (self: unknown) => (real.get(self as object) ?? self) as Storage;
  const areaOf = (storage: Storage): string => {
    try {
      return storage === unwrap(globalThis.sessionStorage) ? 'session storage' : 'local storage';
    } catch {
      return 'local storage';
    }
  };
  const write = (storage: Storage, key: string, value: string, act: () => unknown) => {
    const frames = where();
    try {
      const result = act();
      report(areaOf(storage), key, value, '', frames);
      return result;
    } catch (error) {
      report(areaOf(storage), key, value, (error as Error).name, frames);
      throw error;
    }
  };
  for (const method of ['getItem', 'removeItem', 'clear', 'key'])
    wrap(
      'Storage',
      method,
      (native) =>
        function (...args) {
          return native.apply(unwrap(this), args);
        },
    );
  wrap(
    'Storage',
    'setItem',
    (native) =>
      function (...args) {
        const storage = unwrap(this);
        return write(storage, String(args[0]), String(args[1]), () => native.apply(storage, args));
      },
  );
  const storageProto = global['Storage']?.prototype;
  const length = storageProto && Object.getOwnPropertyDescriptor(storageProto, 'length');
  if (storageProto && length?.get) {
    const get = length.get;
    Object.defineProperty(storageProto, 'length', {
      ...length,
      get(this: unknown) {
        return get.call(unwrap(this)) as number;
      },
    });
  }
  // Keys may also be written as properties, which no method sees.
  for (const area of ['localStorage', 'sessionStorage']) {
    const owner = Object.getOwnPropertyDescriptor(globalThis, area)
      ? globalThis
      : global['Window']?.prototype;
    const descriptor = owner && Object.getOwnPropertyDescriptor(owner, area);
    if (!owner || !descriptor?.get || !descriptor.configurable) continue;
    const get = descriptor.get;
    const proxies = new WeakMap<object, object>();
    Object.defineProperty(owner, area, {
      ...descriptor,
      get(this: unknown) {
        const storage = get.call(this ?? globalThis) as Storage | null;
        if (!storage) return storage;
        const known = proxies.get(storage);
        if (known) return known;
        const proxy = new Proxy(storage, {
          get: (target, key) => Reflect.get(target, key, target) as unknown,
          set: (target, key, value) =>
            typeof key === 'symbol'
              ? Reflect.set(target, key, value, target)
              : (write(target, key, String(value), () => Reflect.set(target, key, value, target)) as boolean),
          defineProperty: (target, key, d) => Reflect.defineProperty(target, key, d),
        });
        proxies.set(storage, proxy);
        real.set(proxy, storage);
        return proxy;
      },
    });
  }

  wrap(
    'IDBFactory',
    'open',
    (native) =>
      function (...args) {
        report('IndexedDB', String(args[0]));
        return native.apply(this, args);
      },
  );
  wrap(
    'IDBFactory',
    'deleteDatabase',
    (native) =>
      function (...args) {
        report('IndexedDB gone', String(args[0]));
        return native.apply(this, args);
      },
  );
  wrap(
    'CacheStorage',
    'open',
    (native) =>
      function (...args) {
        report('cache storage', String(args[0]));
        return native.apply(this, args);
      },
  );
  wrap(
    'CacheStorage',
    'delete',
    (native) =>
      function (...args) {
        report('cache storage gone', String(args[0]));
        return native.apply(this, args);
      },
  );
  wrap(
    'ServiceWorkerContainer',
    'register',
    (native) =>
      function (...args) {
        const frames = where();
        const url = new URL(String(args[0]), location.href).href;
        report('service worker', url, '', '', frames);
        const done = native.apply(this, args) as Promise<unknown>;
        done.then(
          () => {},
          (error: Error) => report('service worker', url, '', error.message.slice(0, 200), frames),
        );
        return done;
      },
  );

  for (const name of ['Worker', 'SharedWorker']) {
    const native = (
      globalThis as unknown as Record<string, (new (...args: unknown[]) => object) | undefined>
    )[name];
    if (!native) continue;
    (globalThis as unknown as Any)[name] = new Proxy(native, {
      construct: (target, args: unknown[], made) => {
        report('worker', new URL(String(args[0]), document.baseURI).href);
        return Reflect.construct(target, args, made) as object;
      },
    });
  }

  const rewritten = (self: unknown, before: string, act: () => void) => {
    act();
    const after = (self as HTMLAnchorElement).href;
    if (after !== before && /^https?:/.test(after)) report('link', after, before);
  };
  for (const property of ['href', 'search'])
    wrapSetter(global['HTMLAnchorElement']?.prototype, property, (self, value, set) =>
      rewritten(self, (self as HTMLAnchorElement).href, () => set(value)),
    );
  wrap(
    'Element',
    'setAttribute',
    (native) =>
      function (...args) {
        if (String(args[0]).toLowerCase() !== 'href' || (this as Element).localName !== 'a')
          return native.apply(this, args);
        return rewritten(this, (this as HTMLAnchorElement).href, () => void native.apply(this, args));
      },
  );
}
