/**
 * Runs in the page: keeps the page's timers in a list, so that a sweep need not sit out the waits. The hidden function
 * `clock(ms, most)` runs early what is due within `ms`, in order, at most `most` of them, and says how many it ran;
 * with `ms` below 0 it tells the page that it is being left.
 */
export function watchTime(clock: string): void {
  interface Timer {
    due: number;
    readonly every: number | undefined;
    runs: number;
    readonly run: () => void;
  }
  const global = globalThis as unknown as Record<string, unknown>;
  const MOST_RUNS_OF_ONE = 15;
  const WORTH_KEEPING_MS = 100;
  const timers = new Map<number, Timer>();
  const native = {
    setTimeout: globalThis.setTimeout,
    clearTimeout: globalThis.clearTimeout,
    setInterval: globalThis.setInterval,
  };
  const now = performance.now.bind(performance);
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
      if (typeof handler !== 'function') return set.call(globalThis, handler, ms, ...args);
      const run = () => {
        if (!repeats) timers.delete(id);
        return (handler as (...a: unknown[]) => unknown).apply(globalThis, args);
      };
      const id = set.call(globalThis, run, ms);
      if (ms >= WORTH_KEEPING_MS && timers.size < 2000)
        timers.set(id, {
          due: now() + ahead + ms,
          every: repeats ? ms : undefined,
          runs: 0,
          run: run as () => void,
        });
      return id;
    };
  global['setTimeout'] = later(native.setTimeout as unknown as Set, false);
  global['setInterval'] = later(native.setInterval as unknown as Set, true);
  for (const name of ['clearTimeout', 'clearInterval']) {
    const clear = global[name] as (id?: number) => void;
    global[name] = (id?: number) => {
      timers.delete(Number(id));
      clear.call(globalThis, id);
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
      leave();
      return 0;
    }
    const until = now() + ahead + ms;
    let ran = 0;
    for (; ran < most; ran++) {
      let next: [number, Timer] | undefined;
      for (const entry of timers) if (!next || entry[1].due < next[1].due) next = entry;
      if (!next || next[1].due > until) break;
      const [id, timer] = next;
      ahead = Math.max(ahead, timer.due - now());
      if (timer.every === undefined) {
        native.clearTimeout.call(globalThis, id);
        timers.delete(id);
      } else if (++timer.runs >= MOST_RUNS_OF_ONE) timers.delete(id);
      else timer.due += timer.every;
      try {
        timer.run();
      } catch (error) {
        globalThis.reportError?.(error);
      }
      // What the page awaits goes on before the next timer.
      await new Promise<void>((done) => native.setTimeout.call(globalThis, done, 0));
    }
    return ran;
  };
  Object.defineProperty(globalThis, clock, { value: run, enumerable: false });
}
