import type { Natives } from './natives.ts';
import type { Report } from './told.ts';
import { watchFingerprints } from './watch-fingerprints.ts';
import { watchTime } from './watch-time.ts';
import { watchWrites } from './watch-writes.ts';

export interface ProbeOptions {
  /** What a line on the console begins with, so that no page can make one. */
  readonly secret: string;
  /** Name of the hidden function that runs the page's waiting timers early. */
  readonly clock: string;
  /** Tells scripts that the visitor sends Global Privacy Control. */
  readonly gpc: boolean;
}

/**
 * Runs in every frame and worker before any of its scripts: tells, on the console, who writes and reads what. What it
 * wraps behaves as before. What it needs of the language it takes beforehand, since pages may change all of it.
 */
export function probeScript(options: ProbeOptions): string {
  return `(${begin.toString()})(${JSON.stringify(options)},${watchWrites.toString()},${watchFingerprints.toString()},${watchTime.toString()})`;
}

function begin(
  { secret, clock, gpc }: ProbeOptions,
  writes: typeof watchWrites,
  fingerprints: typeof watchFingerprints,
  time: typeof watchTime,
): void {
  const global = globalThis as unknown as Record<string, unknown>;
  if (global[clock]) return;
  const { apply, construct, get, set, defineProperty, getOwnPropertyDescriptor } = Reflect;
  const { debug } = console;
  const there = console;
  const stringify = JSON.stringify;
  const makeString = String;
  const { slice, indexOf, toLowerCase } = String.prototype;
  const then = Promise.prototype.then;
  const RealWeakMap = WeakMap;
  const weakGet = WeakMap.prototype.get;
  const weakSet = WeakMap.prototype.set;
  const RealUrl = URL;
  const href = getOwnPropertyDescriptor(URL.prototype, 'href')?.get as () => string;
  const own = (descriptor: PropertyDescriptor): PropertyDescriptor => {
    // Without a prototype, so that nothing can be slipped in from behind.
    const plain = { __proto__: null } as unknown as PropertyDescriptor;
    for (const key of ['value', 'get', 'set', 'writable', 'enumerable', 'configurable'] as const) {
      const has = getOwnPropertyDescriptor(descriptor, key);
      if (has) (plain as Record<string, unknown>)[key] = has.value;
    }
    return plain;
  };
  const natives: Natives = {
    apply: (fn, self, args) => apply(fn as () => unknown, self, args as unknown[]) as unknown,
    construct: (fn, args, made) => construct(fn as never, args as unknown[], (made ?? fn) as never) as object,
    get: (target, key, receiver) => get(target, key, receiver ?? target) as unknown,
    set: (target, key, value, receiver) => set(target, key, value, receiver ?? target),
    define: (target, key, descriptor) => void defineProperty(target, key, own(descriptor)),
    descriptor: (target, key) => getOwnPropertyDescriptor(target, key),
    slice: (text, from, to) => apply(slice, text, [from, to]) as string,
    indexOf: (text, part, from = 0) => apply(indexOf, text, [part, from]) as number,
    lower: (text) => apply(toLowerCase, text, []) as string,
    text: (value) => makeString(value),
    settled: (promise, call) => {
      const failed = (error: unknown) => {
        let words = '';
        try {
          words = makeString((error as Error).message);
        } catch {
          // An error that cannot even be read.
        }
        call(words || 'refused');
      };
      apply(then, promise, [() => call(''), failed]);
    },
    weakMap: () => {
      const map = new RealWeakMap();
      return {
        get: (key) => apply(weakGet, map, [key]) as unknown,
        set: (key, value) => void apply(weakSet, map, [key, value]),
      };
    },
    newUrl: (url, base) => apply(href, new RealUrl(url, base), []) as string,
  };
  const report: Report = (kind, name, value = '', refused = '') => {
    try {
      const cut = (text: string) => stringify(natives.slice(makeString(text), 0, 6000));
      // Text by text, since a list or an object may be given a toJSON by the page.
      const line = `${secret}[${cut(kind)},${cut(name)},${cut(value)},${value.length},${cut(refused)}]`;
      apply(debug, there, [line]);
    } catch {
      // The page must not notice.
    }
  };
  const guarded = (work: () => unknown) => {
    try {
      work();
    } catch {
      // A page without this interface has nothing of it to watch.
    }
  };
  if (gpc)
    guarded(() =>
      Object.defineProperty(Object.getPrototypeOf(navigator), 'globalPrivacyControl', {
        get: () => true,
        enumerable: true,
        configurable: true,
      }),
    );
  let again = () => {};
  guarded(() => (again = writes(report, natives)));
  guarded(() => fingerprints(report, natives));
  guarded(() => time(clock, natives, () => guarded(again)));
}
