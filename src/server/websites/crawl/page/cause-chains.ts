import type { Cause } from '../../../../core/websites/trackers/tracker.ts';

export interface CallFrame {
  readonly scriptId?: string;
  readonly url: string;
  /** 0-based. */
  readonly lineNumber: number;
}

export interface Stack {
  readonly callFrames: readonly CallFrame[];
  readonly parent?: Stack;
}

/** Who asked, as the Chrome DevTools Protocol tells it (Network.Initiator). */
export interface Initiator {
  readonly type: string;
  readonly url?: string;
  readonly lineNumber?: number;
  readonly stack?: Stack;
}

interface Loader {
  readonly initiator: Initiator;
  /** The page, frame or worker in which it was asked for. */
  readonly document: string;
}

const LONGEST_CHAIN = 20;
/** More than any honest page loads. */
const MOST_LOADED = 20_000;

/** Who loaded what on a page, and from it the chain from the page to what did something. */
export class CauseChains {
  readonly #loadedBy = new Map<string, Loader>();
  readonly #workers = new Set<string>();
  /** Chains that are known whole, from the page to what is at this address. */
  readonly #whole = new Map<string, readonly Cause[]>();

  clear(): void {
    this.#loadedBy.clear();
  }

  /** The first to load an address is the one that counts. */
  loaded(url: string, by: Loader): void {
    if (!this.#loadedBy.has(url) && this.#loadedBy.size < MOST_LOADED) this.#loadedBy.set(url, by);
  }

  worker(url: string): void {
    if (this.#workers.size < MOST_LOADED) this.#workers.add(url);
  }

  /** A service worker was registered on another page, perhaps, and by scripts that this one never loads. */
  whole(url: string, chain: readonly Cause[]): void {
    if (this.#whole.size < MOST_LOADED) this.#whole.set(url, chain);
  }

  /** The address of what asked, or '' for the address bar. */
  asker(initiator: Initiator): string {
    return initiator.url ?? topFrame(initiator.stack)?.url ?? '';
  }

  /** From the page to what asked: walks back from the asking script through who loaded each. */
  of(initiator: Initiator, document: string, self: string): readonly Cause[] {
    const steps: Cause[] = [];
    let at: Loader | undefined = { initiator, document };
    const been = new Set<string>([self]);
    while (at && steps.length < LONGEST_CHAIN) {
      const frame = topFrame(at.initiator.stack);
      const page: string = at.document;
      const url: string = frame?.url || at.initiator.url || page;
      const line = frame
        ? frame.lineNumber + 1
        : at.initiator.lineNumber !== undefined
          ? at.initiator.lineNumber + 1
          : undefined;
      if (!url) break;
      const loader: Loader | undefined = this.#loadedBy.get(url);
      // A script, a module that imports, a style sheet or a worker: something the page loaded.
      const loaded = url !== page && (frame !== undefined || loader !== undefined);
      if ((loaded || this.#workers.has(url)) && !been.has(url)) {
        been.add(url);
        steps.push({ what: /\.css(?:$|[?#])/.test(url) ? 'style' : 'script', url, line });
        const whole = this.#whole.get(url);
        if (whole) return [...whole, ...steps.reverse()];
        at = loader;
        continue;
      }
      const parent = been.has(page) ? undefined : this.#loadedBy.get(page);
      const inFrame =
        parent !== undefined &&
        parent.document !== page &&
        parent.document !== '' &&
        (parent.initiator.type === 'parser' || parent.initiator.type === 'script');
      steps.push({ what: inFrame ? 'frame' : 'page', url: url || page, line });
      been.add(page);
      at = inFrame ? parent : undefined;
    }
    return steps.reverse();
  }
}

function topFrame(stack: Stack | undefined): CallFrame | undefined {
  for (let s = stack; s; s = s.parent) {
    const frame = s.callFrames.find((f) => /^https?:/.test(f.url));
    if (frame) return frame;
  }
  return undefined;
}
