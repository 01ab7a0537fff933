import type { Natives } from './natives.ts';

/**
 * Runs in the page: keeps the page's timers in a list, so that a sweep need not sit out the waits. The hidden function
 * `clock(ms, most)` runs early what is due within `ms`, in order, at most `most` of them, and says how many it ran;
 * with `ms` of -1 it tells the page that it is being left, with -2 it does what is left to be done (`again`).
 */
export function watchTime(clock: string, { apply }: Natives, again: () => void): void {
  interface Timer {
    due: number;
    readonly every: number | undefined;
    runs: number;
    readonly run: () => void;
  }
  const global = globalThis as unknown as Record<string, unknown>;
  const MOST_RUNS_OF_ONE = 15;
  const WORTH_KEEPING_MS = 100;
  // Without a prototype, and walked by its keys: nothing that a page changes is between it and us.
  const timers = { __proto__: null } as unknown as Record<number, Timer | undefined>;
  let kept = 0;
  const drop = (id: number) => {
    if (timers[id] === undefined) return;
    delete timers[id];
    kept--;
  };
  const native = {
    setTimeout: globalThis.setTimeout,
    clearTimeout: globalThis.clearTimeout,
    setInterval: globalThis.setInterval,
  };
  const now = performance.now.bind(performance);
  const RealPromise = Promise;
  let ahead = 0;
  // Scripts that look at the clock find it where their timers are.
  const RealDate = Date;
  const dateNow = RealDate.now.bind(RealDate);
  global['Date'] = new Proxy(RealDate, {
    construct: (target, args: unknown[], made) =>
      Reflect.construct(target, args.length === 0 ? [dateNow() + ahead] : args, made) as object,
    apply: () => new RealDate(dateNow() + ahead).toString(),
  });
  RealDate.now = () => dateNow() + ahead;
  Object.getPrototypeOf(performance).now = () => now() + ahead;
  type Set = (handler: unknown, ms?: number, ...args: unknown[]) => number;
  const later = (set: Set, repeats: boolean): Set =>
    function (this: unknown, handler, ms = 0, ...args) {
      if (typeof handler !== 'function') return apply(set, globalThis, [handler, ms]) as number;
      const run = () => {
        if (!repeats) drop(id);
        return apply(handler, globalThis, args);
      };
      const id = apply(set, globalThis, [run, ms]) as number;
      if (ms >= WORTH_KEEPING_MS && kept < 2000) {
        kept++;
        timers[id] = {
          due: now() + ahead + ms,
          every: repeats ? ms : undefined,
          runs: 0,
          run: run as () => void,
        };
      }
      return id;
    };
  global['setTimeout'] = later(native.setTimeout as unknown as Set, false);
  global['setInterval'] = later(native.setInterval as unknown as Set, true);
  for (const name of ['clearTimeout', 'clearInterval']) {
    const clear = global[name] as (id?: number) => void;
    global[name] = (id?: number) => {
      drop(Number(id));
      apply(clear, globalThis, [id]);
    };
  }
  let left = false;
  for (const name of ['pagehide', 'unload', 'visibilitychange'])
    globalThis.addEventListener?.(name, (event) => left && event.stopImmediatePropagation(), true);
  /** Says goodbye beforehand, once: what a page sends while it is torn down is not told to those who watch it. */
  const leave = () => {
    if (left || typeof document === 'undefined') return;
    Object.defineProperty(document, 'visibilityState', { get: () => 'hidden', configurable: true });
    document.dispatchEvent(new Event('visibilitychange', { bubbles: true }));
    dispatchEvent(new PageTransitionEvent('pagehide', { persisted: false }));
    dispatchEvent(new Event('unload'));
    left = true;
  };
  const run = async (ms: number, most: number): Promise<number> => {
    if (ms < 0) {
      if (ms === -2) again();
      else leave();
      return 0;
    }
    const until = now() + ahead + ms;
    let ran = 0;
    for (; ran < most; ran++) {
      let id = -1;
      let timer: Timer | undefined;
      for (const key in timers) {
        const one = timers[key];
        if (one && (!timer || one.due < timer.due)) {
          timer = one;
          id = +key;
        }
      }
      if (!timer || timer.due > until) break;
      ahead = Math.max(ahead, timer.due - now());
      if (timer.every === undefined) {
        apply(native.clearTimeout, globalThis, [id]);
        drop(id);
      } else if (++timer.runs >= MOST_RUNS_OF_ONE) drop(id);
      else timer.due += timer.every;
      try {
        timer.run();
      } catch (error) {
        globalThis.reportError?.(error);
      }
      // What the page awaits goes on before the next timer.
      await new RealPromise<void>((done) => void apply(native.setTimeout, globalThis, [done, 0]));
    }
    return ran;
  };
  Object.defineProperty(globalThis, clock, { value: run, enumerable: false });
}
