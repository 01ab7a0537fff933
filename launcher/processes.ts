import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { LauncherError } from './launcher-error.ts';
import { PROJECT } from './project.ts';
import { Patience } from './patience.ts';

export const PROCESS_NAMES = ['standins', 'visitor', 'web', 'worker', 'intake'] as const;
export type ProcessName = (typeof PROCESS_NAMES)[number];

/** A process that ended by itself. */
export interface Ended {
  readonly name: string;
  /** Such as `killed by SIGKILL` or `code 1`. */
  readonly how: string;
  /** The end of what it said on its way out. */
  readonly said: string;
  /** Milliseconds until it is started again; `undefined` where it ended too often. */
  readonly againIn: number | undefined;
}

interface Plan {
  readonly name: ProcessName;
  readonly env: Readonly<Record<string, string>>;
  readonly port: number;
  readonly args: readonly string[];
}

/** Processes started together. One that ends by itself is started again, later each time, until it ends too often. */
export class Processes {
  readonly #children = new Map<string, ChildProcess>();
  readonly #leaving = new Set<string>();
  readonly #patience = new Map<string, Patience>();
  #stopping = false;

  /** Without `ended`, what ends by itself stays ended. */
  constructor(readonly ended?: (ended: Ended) => void) {}

  /** Starts a built program and waits until its `/healthz` answers. */
  async start(
    name: ProcessName,
    env: Readonly<Record<string, string>>,
    port: number,
    args: readonly string[] = [],
  ): Promise<void> {
    if (this.#stopping) throw new LauncherError('Stopped before all of it was up.');
    const run = this.#spawn({ name, env, port, args });
    for (let tries = 0; tries < 300; tries++) {
      if (run.gone) throw new LauncherError(`The ${name} process did not start.\n${run.said}`);
      if (await isHealthy(port)) {
        run.up = true;
        return;
      }
      await new Promise((done) => setTimeout(done, 100));
    }
    throw new LauncherError(`The ${name} process did not become ready within 30 seconds.`);
  }

  #spawn(plan: Plan): Run {
    const { name, env, args } = plan;
    const child = spawn(
      process.execPath,
      ['--enable-source-maps', ...args, join(PROJECT, 'dist', `${name}.mjs`)],
      {
        cwd: PROJECT,
        env: { ...process.env, ...env, YARE_PROCESS: name, YARE_PARENT: String(process.pid) },
        stdio: ['ignore', 'inherit', 'pipe'],
        // Its own group: Ctrl-C reaches the launcher, which stops the others in order.
        detached: true,
      },
    );
    const run: Run = { gone: false, up: false, said: '' };
    const begun = Date.now();
    child.stderr?.on('data', (chunk: Buffer) => {
      run.said = (run.said + chunk.toString()).slice(-4000);
      if (!this.#stopping) process.stderr.write(chunk);
    });
    this.#children.set(name, child);
    child.on('close', (code, signal) => {
      run.gone = true;
      if (this.#children.get(name) === child) this.#children.delete(name);
      if (this.#stopping || this.#leaving.has(name) || !run.up || !this.ended) return;
      this.#endedByItself(
        plan,
        signal ? `killed by ${signal}` : `code ${code}`,
        run.said,
        Date.now() - begun,
      );
    });
    return run;
  }

  #endedByItself(plan: Plan, how: string, said: string, ranMs: number): void {
    const { name } = plan;
    const patience = this.#patience.get(name) ?? new Patience();
    this.#patience.set(name, patience);
    const againIn = patience.after(ranMs);
    this.ended?.({ name, how, said: said.split('\n').slice(-6).join('\n').trim(), againIn });
    if (againIn === undefined) return;
    setTimeout(() => {
      if (this.#stopping || this.#children.has(name)) return;
      // Up from the beginning: if it does not come up, it has ended by itself once more.
      this.#spawn(plan).up = true;
    }, againIn).unref();
  }

  /** Ends one as it should end, without that counting as a failure. */
  async end(name: ProcessName): Promise<void> {
    const child = this.#children.get(name);
    if (!child) return;
    this.#leaving.add(name);
    const ended = new Promise<void>((done) => child.once('close', () => done()));
    child.kill('SIGTERM');
    await ended;
    this.#leaving.delete(name);
  }

  /** Ends one as a crash would; for tests. */
  async kill(name: ProcessName): Promise<void> {
    const child = this.#children.get(name);
    if (!child) return;
    const ended = new Promise<void>((done) => child.once('close', () => done()));
    child.kill('SIGKILL');
    await ended;
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    await Promise.all(
      [...this.#children.values()].map(
        (child) =>
          new Promise<void>((ended) => {
            child.once('close', () => ended());
            child.kill('SIGTERM');
            setTimeout(() => child.kill('SIGKILL'), 12_000).unref();
          }),
      ),
    );
  }
}

interface Run {
  gone: boolean;
  /** It was ready, so that its end is its own. */
  up: boolean;
  said: string;
}

export async function isHealthy(port: number): Promise<boolean> {
  return fetch(`http://127.0.0.1:${port}/healthz`, { signal: AbortSignal.timeout(1000) }).then(
    (r) => r.ok,
    () => false,
  );
}
