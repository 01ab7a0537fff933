import { run } from '../../launcher/run.ts';
import { RunningProcesses } from '../attack/running-processes.ts';

interface View {
  readonly run: { readonly id: string; readonly state: string; readonly ended_at: string | null };
}

export const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** A running desk that is asked as an officer would, and whose processes and database are killed meanwhile. */
export class KillableDesk {
  private constructor(
    readonly all: RunningProcesses,
    readonly cookie: string,
  ) {}

  static async start(settings: Readonly<Record<string, string>> = {}): Promise<KillableDesk> {
    const all = await RunningProcesses.start(settings);
    return new KillableDesk(all, await all.signIn());
  }

  async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    const origin = `http://localhost:${this.all.ports.web}`;
    for (let tries = 0; ; tries++) {
      const answer = await fetch(`${origin}${path}`, {
        method,
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        headers: { cookie: this.cookie, origin, 'content-type': 'application/json' },
      });
      if (answer.ok) return (await answer.json()) as T;
      // The database is away for some seconds where it was killed.
      if (answer.status !== 503 || tries > 60)
        throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      await wait(500);
    }
  }

  async until<T>(path: string, is: (view: T) => boolean): Promise<T> {
    for (;;) {
      const view = await this.ask<T>('GET', path);
      if (is(view)) return view;
      await wait(500);
    }
  }

  /** Estimates, starts and waits for a survey. */
  async survey(id: number): Promise<string> {
    await this.ask('POST', `/api/holdings/surveys/${id}/estimate`, {});
    const path = `/api/holdings/surveys/${id}`;
    const { run: reading } = await this.until<View>(path, (v) => v.run.state === 'estimated');
    await this.ask('POST', `/api/runs/${reading.id}`, { act: 'start' });
    return (await this.until<View>(path, (v) => v.run.ended_at !== null)).run.state;
  }

  /** The worker and the database in turn. */
  async kill(turn: number): Promise<void> {
    if (turn % 2 === 0) await this.all.processes.kill('worker');
    else await run('pkill', ['-9', '-f', `mariadbd.*${this.all.folder}`]);
  }

  stop(): Promise<void> {
    return this.all.stop();
  }
}
