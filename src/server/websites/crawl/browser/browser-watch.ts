import { execFile } from 'node:child_process';
import { log } from '../../../log.ts';
import { commandOf, family, processes, type Process } from './process-table.ts';

export interface BrowserLimits {
  /** Bytes that all processes of a browser hold together. */
  readonly bytes: number;
  /** Bytes of data of one that runs pages. */
  readonly pageBytes: number;
  readonly threads: number;
}

export const BROWSER_LIMITS: BrowserLimits = {
  bytes: 3_500_000_000,
  pageBytes: 2_500_000_000,
  threads: 1500,
};

const EVERY_MS = 400;

/**
 * Looks at what a browser takes of memory and threads, and ends the process that runs the page that takes too much: the
 * browser goes on, without that page.
 */
export class BrowserWatch {
  readonly #tightened = new Set<number>();
  readonly #kinds = new Map<number, string>();
  #root: number | undefined;
  #timer: NodeJS.Timeout | undefined;
  #looking = false;

  constructor(
    /** The folder that the browser was started with. */
    readonly profile: string,
    readonly limits: BrowserLimits,
  ) {
    this.#timer = setInterval(() => {
      if (this.#looking) return;
      this.#looking = true;
      this.#look()
        .catch(() => {})
        .finally(() => (this.#looking = false));
    }, EVERY_MS);
    this.#timer.unref();
  }

  stop(): void {
    clearInterval(this.#timer);
  }

  async #look(): Promise<void> {
    const all = await processes();
    this.#root ??= await this.#findRoot(all);
    if (this.#root === undefined) return;
    const own = family(all, this.#root);
    for (const { pid } of own)
      if (!this.#kinds.has(pid))
        this.#kinds.set(pid, /--type=([a-z-]+)/.exec(await commandOf(pid))?.[1] ?? '');
    const pages = own.filter((p) => this.#kinds.get(p.pid) === 'renderer');
    for (const { pid } of pages) this.#tighten(pid);
    const bytes = own.reduce((sum, p) => sum + p.bytes, 0);
    const threads = own.reduce((sum, p) => sum + p.threads, 0);
    if (bytes <= this.limits.bytes && threads <= this.limits.threads) return;
    const by = bytes > this.limits.bytes ? 'bytes' : 'threads';
    const worst = (pages.length > 0 ? pages : own).toSorted((a, b) => b[by] - a[by])[0];
    if (!worst) return;
    log.warn({ bytes, threads }, 'a page took too much, and was ended');
    try {
      process.kill(worst.pid, 'SIGKILL');
    } catch {
      // It was faster.
    }
  }

  /** Once it runs, a page needs less than what it takes to start. */
  #tighten(pid: number): void {
    if (this.#tightened.has(pid)) return;
    this.#tightened.add(pid);
    execFile('prlimit', ['--pid', String(pid), `--data=${this.limits.pageBytes}`], () => {});
  }

  async #findRoot(all: readonly Process[]): Promise<number | undefined> {
    for (const { pid } of all) {
      const command = await commandOf(pid);
      if (command.includes(`--user-data-dir=${this.profile}`) && !command.includes('--type=')) return pid;
    }
    return undefined;
  }
}
