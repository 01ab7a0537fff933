import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase } from '../../launcher/database-command.ts';
import { freePorts } from '../../launcher/free-port.ts';
import { KeptDatabase } from '../../launcher/kept-database.ts';
import { Processes, type Ended } from '../../launcher/processes.ts';
import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import type { Store } from '../../src/server/store/pool.ts';
import { moveNotice } from '../integration/notice.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';
import { readSettings } from '../../src/server/settings.ts';

/** The one site there is. */
export const HOST = 'attacked.example';
const PASSWORD = 'harbour lights at night';
const EMAIL = 'officer@test.example';

/** All built processes on a database of their own, started again as they would be. */
export class RunningProcesses {
  readonly ports = { web: 0, visitor: 0, worker: 0, standins: 0 };
  readonly ended: Ended[] = [];
  readonly processes = new Processes((e) => this.ended.push(e));
  siteKey = '';

  private constructor(
    readonly folder: string,
    readonly database: KeptDatabase & { readonly url: string },
    readonly store: Store,
  ) {}

  /** @param more settings besides those that the processes need. */
  static async start(more: Readonly<Record<string, string>> = {}): Promise<RunningProcesses> {
    const folder = await mkdtemp(join(tmpdir(), 'yare-attack-'));
    const [port = 0, web = 0, visitor = 0, worker = 0, standins = 0, mail = 0, tls = 0] = await freePorts(7);
    const told: Ended[] = [];
    const database = await KeptDatabase.start(folder, port, (e) => told.push(e));
    const { store } = await prepareDatabase(database.url);
    const all = new RunningProcesses(folder, database, store);
    Object.assign(all.ports, { web, visitor, worker, standins });
    const passwordHash = await hashPassword(PASSWORD);
    const account = { email: EMAIL, name: 'The officer', title: '', role: 'officer', passwordHash } as const;
    const id = await addAccount(store, account);
    const site = { host: HOST, startUrl: `https://${HOST}/`, name: 'Attacked', by: id };
    ({ siteKey: all.siteKey } = await store.transaction((tx) => insertSite(tx, new Date(), site)));
    const SECRET_KEY = 'cd'.repeat(32);
    const settings = readSettings({ DATABASE_URL: database.url, SECRET_KEY });
    await moveNotice({ store, settings, now: () => new Date() }, id, HOST, 'put in force', 1);
    const env = {
      DATABASE_URL: database.url,
      WEB_PORT: String(web),
      VISITOR_PORT: String(visitor),
      WORKER_PORT: String(worker),
      STANDIN_PORT: String(standins),
      STANDIN_MAIL_PORT: String(mail),
      STANDIN_TLS_PORT: String(tls),
      DATA_DIR: folder,
      SECRET_KEY,
      LOG_LEVEL: 'silent',
      ...more,
    };
    await Promise.all([
      all.processes.start('web', env, web),
      all.processes.start('visitor', env, visitor),
      all.processes.start('worker', env, worker),
      all.processes.start('standins', env, standins),
    ]);
    return all;
  }

  /** The cookie of a new session of the officer. */
  async signIn(): Promise<string> {
    const answer = await fetch(`http://localhost:${this.ports.web}/api/accounts/sign-in`, {
      method: 'POST',
      body: JSON.stringify({ email: EMAIL, password: PASSWORD }),
      headers: { origin: `http://localhost:${this.ports.web}`, 'content-type': 'application/json' },
    });
    const session = answer.headers.getSetCookie().find((c) => c.startsWith('yare_session='));
    if (!session) throw new Error(`Signing in answered ${answer.status}.`);
    return session.split(';')[0] as string;
  }

  async stop(): Promise<void> {
    await this.processes.stop();
    await this.store.close();
    await this.database.stop();
    await rm(this.folder, { recursive: true, force: true, maxRetries: 5 });
  }
}
