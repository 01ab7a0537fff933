import type { HeldBack } from './held-back.ts';
import { failing, wrap, type Realm } from './natives.ts';

/** What scripts ask for without an element: answered with nothing, or failing, where it has to wait. */
export function holdRequests(window: Realm, holds: HeldBack): void {
  const { fetch } = window;
  const bareOptions = { mode: 'no-cors', credentials: 'omit' } as const;
  window.fetch = (input, init) => {
    const address = input instanceof window.Request ? input.url : input;
    if (holds.holdsUrl(address)) return Promise.resolve(new window.Response(null, { status: 204 }));
    const bare = holds.reduced(address);
    return bare === undefined
      ? fetch.call(window, input, init)
      : fetch.call(window, bare, { ...bareOptions, referrerPolicy: 'origin' });
  };
  wrap(
    window.Navigator.prototype,
    'sendBeacon',
    (native) =>
      function (...args) {
        if (holds.holdsUrl(args[0])) return true;
        const bare = holds.reduced(args[0]);
        if (bare === undefined) return native.apply(this, args);
        void fetch(bare, { ...bareOptions, keepalive: true }).catch(() => {});
        return true;
      },
  );
  const silenced = new WeakSet<object>();
  const bared = new WeakSet<object>();
  wrap(
    window.XMLHttpRequest.prototype,
    'open',
    (native) =>
      function (...args) {
        if (holds.holdsUrl(args[1])) silenced.add(this as object);
        else silenced.delete(this as object);
        const bare = holds.reduced(args[1]);
        if (bare !== undefined) bared.add(this as object);
        return native.apply(this, bare === undefined ? args : [args[0], bare, ...args.slice(2)]);
      },
  );
  wrap(
    window.XMLHttpRequest.prototype,
    'send',
    (native) =>
      function (...args) {
        const request = this as XMLHttpRequest;
        if (silenced.has(request)) {
          // Whoever waits for it hears that it did not come.
          setTimeout(() => {
            for (const type of ['error', 'loadend']) request.dispatchEvent(new window.ProgressEvent(type));
          });
          return undefined;
        }
        if (!bared.has(request)) return native.apply(this, args);
        request.withCredentials = false;
        return native.apply(this, []);
      },
  );
  for (const [name, readyState] of [
    ['WebSocket', 3],
    ['EventSource', 2],
  ] as const) {
    const native = window[name] as (new (...args: never[]) => object) | undefined;
    if (native)
      (window as unknown as Record<string, unknown>)[name] = new Proxy(native, {
        construct: (target, args: never[], newTarget) =>
          holds.holdsUrl(String(args[0]).replace(/^ws/, 'http'))
            ? failing(window, (newTarget as typeof native).prototype as object, {
                ...{ url: String(args[0]), readyState },
                ...{ send: () => {}, close: () => {} },
              })
            : (Reflect.construct(target, args, newTarget) as object),
      });
  }
}
