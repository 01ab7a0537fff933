import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { LauncherError } from './launcher-error.ts';
import { PROJECT } from './project.ts';

export const PROCESS_NAMES = ['standins', 'visitor', 'web', 'worker'] as const;
export type ProcessName = (typeof PROCESS_NAMES)[number];

/** Processes started together; when one ends by itself, `failed` tells. */
export class Processes {
  readonly #children = new Map<string, ChildProcess>();
  readonly #leaving = new Set<string>();
  #stopping = false;
  #fail: (error: Error) => void = () => {};
  readonly failed = new Promise<Error>((resolve) => (this.#fail = resolve));

  /** Starts a built program and waits until its `/healthz` answers. */
  async start(
    name: ProcessName,
    env: Record<string, string>,
    port: number,
    args: readonly string[] = [],
  ): Promise<void> {
    if (this.#stopping) throw new LauncherError('Stopped before all of it was up.');
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
    let errors = '';
    child.stderr?.on('data', (chunk: Buffer) => {
      errors = (errors + chunk.toString()).slice(-4000);
      if (!this.#stopping) process.stderr.write(chunk);
    });
    this.#children.set(name, child);
    let gone = false;
    child.on('close', (code) => {
      gone = true;
      this.#children.delete(name);
      if (!this.#stopping && !this.#leaving.has(name))
        this.#fail(
          new LauncherError(
            `The ${name} process ended by itself (code ${code}).\n${errors.split('\n').slice(-6).join('\n')}`,
          ),
        );
    });
    for (let tries = 0; tries < 300; tries++) {
      if (gone) throw new LauncherError(`The ${name} process did not start.\n${errors}`);
      if (await isHealthy(port)) return;
      await new Promise((done) => setTimeout(done, 100));
    }
    throw new LauncherError(`The ${name} process did not become ready within 30 seconds.`);
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

export async function isHealthy(port: number): Promise<boolean> {
  return fetch(`http://127.0.0.1:${port}/healthz`, { signal: AbortSignal.timeout(1000) }).then(
    (r) => r.ok,
    () => false,
  );
}
