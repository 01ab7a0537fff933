import { watchFingerprints } from './watch-fingerprints.ts';
import { watchTime } from './watch-time.ts';
import { watchWrites } from './watch-writes.ts';

export interface ProbeOptions {
  /** Name of the binding over which it tells; gone from the page once it runs. */
  readonly binding: string;
  /** Name of the hidden function that runs the page's waiting timers early. */
  readonly clock: string;
  /** Tells scripts that the visitor sends Global Privacy Control. */
  readonly gpc: boolean;
}

/** What the page-side probe tells, a JSON text each. `frames` are `URL LINE`, innermost first. */
export interface Told {
  readonly kind: string;
  readonly name: string;
  readonly value: string;
  readonly length: number;
  /** Why the browser refused it; empty where it was done, `?` where the page cannot know. */
  readonly refused: string;
  readonly frames: readonly string[];
  readonly document: string;
  readonly origin: string;
}

export type Report = (
  kind: string,
  name: string,
  value?: string,
  refused?: string,
  frames?: string[],
) => void;

/**
 * Runs in every frame and worker before any of its scripts: tells, through the binding, who writes and reads what.
 * What it wraps behaves as before.
 */
export function probeScript(options: ProbeOptions): string {
  return `(${begin.toString()})(${JSON.stringify(options)},${watchWrites.toString()},${watchFingerprints.toString()},${watchTime.toString()})`;
}

function begin(
  { binding, clock, gpc }: ProbeOptions,
  writes: typeof watchWrites,
  fingerprints: typeof watchFingerprints,
  time: typeof watchTime,
): void {
  const global = globalThis as unknown as Record<string, unknown>;
  const tell = global[binding] as ((text: string) => void) | undefined;
  if (!tell || global[clock]) return;
  delete global[binding];
  const stringify = JSON.stringify;
  const where = (): string[] => {
    const limit = Error.stackTraceLimit;
    Error.stackTraceLimit = 30;
    const stack = String(new Error().stack ?? '');
    Error.stackTraceLimit = limit;
    const frames: string[] = [];
    for (const line of stack.split('\n')) {
      const match = /((?:https?|blob|data):[^\s)]+):(\d+):\d+\)?$/.exec(line);
      if (match) frames.push(`${match[1]} ${match[2]}`);
    }
    return frames;
  };
  const report: Report = (kind, name, value = '', refused = '', frames = where()) => {
    try {
      tell(
        stringify({
          kind,
          name: name.slice(0, 6000),
          value: value.slice(0, 6000),
          length: value.length,
          refused,
          frames,
          // A frame without an address of its own is part of what holds it.
          document: /^about:/.test(location.href) ? document.baseURI : location.href,
          origin: globalThis.origin,
        }),
      );
    } catch {
      // The page must not notice.
    }
  };
  const guarded = (work: () => void) => {
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
  guarded(() => writes(report, where));
  guarded(() => fingerprints(report));
  guarded(() => time(clock));
}
