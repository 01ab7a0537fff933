import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePorts } from '../../launcher/free-port.ts';
import { PROJECT } from '../../launcher/project.ts';
import { openStore, type Store } from '../../src/server/store/pool.ts';

const PORTS = [
  ...(['WEB_PORT', 'VISITOR_PORT', 'STANDIN_PORT', 'STANDIN_MAIL_PORT'] as const),
  ...(['STANDIN_TLS_PORT', 'DATABASE_PORT', 'WORKER_PORT', 'INTAKE_PORT'] as const),
  ...(['SYSLOG_PORT', 'GATEWAY_PORT'] as const),
] as const;
export type ProcessName = 'visitor' | 'worker' | 'web' | 'database';

/** All of it as `./yare start` starts it, on a folder and ports of its own. */
export class LaunchedYare {
  private constructor(
    readonly launcher: ChildProcess,
    readonly ports: Readonly<Record<(typeof PORTS)[number], number>>,
    readonly folder: string,
    readonly store: Store,
    readonly secret: string,
  ) {}

  static async start(...args: readonly string[]): Promise<LaunchedYare> {
    const folder = await mkdtemp(join(tmpdir(), 'yare-long-'));
    const free = await freePorts(PORTS.length);
    const ports = Object.fromEntries(PORTS.map((name, i) => [name, free[i] ?? 0])) as LaunchedYare['ports'];
    const launcher = spawn(join(PROJECT, 'yare'), ['start', ...args], {
      env: {
        ...process.env,
        ...Object.fromEntries(Object.entries(ports).map(([k, v]) => [k, String(v)])),
        DATA_DIR: folder,
        TRUST_PROXY: 'yes',
        LOG_LEVEL: 'silent',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let said = '';
    await new Promise<void>((ready, failed) => {
      launcher.stdout.on('data', (c: Buffer) => {
        said += c.toString();
        if (said.includes('Yare Warden is ready')) ready();
      });
      launcher.once('close', () => failed(new Error(said)));
    });
    const read = async (file: string) => (await readFile(join(folder, file), 'utf8')).trim();
    const database = `mysql://yare:${await read('database-password')}@127.0.0.1:${ports.DATABASE_PORT}/yare`;
    return new LaunchedYare(launcher, ports, folder, openStore(database, 4), await read('secret-key'));
  }

  async stop(): Promise<void> {
    this.launcher.kill('SIGTERM');
    await new Promise((done) => this.launcher.once('close', done));
    await this.store.close();
    await rm(this.folder, { recursive: true, force: true, maxRetries: 5 });
  }

  /** A process that it started, by what it is. */
  async pidOf(name: ProcessName): Promise<number | undefined> {
    for (const pid of (await readdir('/proc')).filter((n) => /^\d+$/.test(n))) {
      const read = (file: string) => readFile(`/proc/${pid}/${file}`, 'utf8').catch(() => '');
      const command = await read('cmdline');
      if (name === 'database') {
        if (command.includes(`--datadir=${this.folder}`)) return Number(pid);
        continue;
      }
      // `./yare` is a shell that becomes the launcher.
      if (
        command.includes(`dist/${name}.mjs`) &&
        (await read('environ')).includes(`YARE_PARENT=${this.launcher.pid}\0`)
      )
        return Number(pid);
    }
    return undefined;
  }
}
