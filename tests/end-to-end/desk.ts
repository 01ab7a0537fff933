import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { chromium, type Browser, type Page } from 'playwright-core';
import { expect } from 'vitest';
import { prepareDatabase } from '../../launcher/database-command.ts';
import { freePorts } from '../../launcher/free-port.ts';
import { startMariadb, type OwnDatabase } from '../../launcher/mariadb.ts';
import { findProgram } from '../../launcher/prerequisites.ts';
import { run } from '../../launcher/run.ts';
import { Processes } from '../../launcher/processes.ts';
import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import type { BuiltInRole } from '../../src/core/accounts/roles/built-in-role.ts';
import type { Store } from '../../src/server/store/pool.ts';

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
];
export const PASSWORD = 'harbour lights at night';

/** The built application on a database and ports of its own, and a browser to use it with. */
export interface RunningDesk {
  readonly origin: string;
  readonly visitorOrigin: string;
  readonly store: Store;
  readonly browser: Browser;
  readonly folder: string;
  readonly processes: Processes;
  /** Kills the database and starts it again on its data. */
  restartDatabase(): Promise<void>;
  /** Starts a process again, after a test has ended it. */
  startAgain(name: 'web' | 'visitor' | 'worker'): Promise<void>;
  signedIn(role?: BuiltInRole): Promise<Page>;
  stop(): Promise<void>;
}

/** `ports` of loopback that sweeps may reach. */
export function startDesk(...ports: readonly number[]): Promise<RunningDesk> {
  return startDeskWith({}, ...ports);
}

/** With more settings. */
export async function startDeskWith(
  more: Readonly<Record<string, string>>,
  ...ports: readonly number[]
): Promise<RunningDesk> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-desk-'));
  const [database = 0, web = 0, visitor = 0, worker = 0] = await freePorts(4);
  let mariadb: OwnDatabase = await startMariadb(folder, database, true);
  const { store } = await prepareDatabase(mariadb.url);
  const passwordHash = await hashPassword(PASSWORD);
  const roles: readonly BuiltInRole[] = ['officer', 'site manager', 'auditor'];
  for (const role of roles)
    await addAccount(store, {
      email: `${role.replace(' ', '.')}@test.example`,
      name: `The ${role}`,
      title: '',
      role,
      passwordHash,
    });
  const env = {
    DATABASE_URL: mariadb.url,
    WEB_PORT: String(web),
    VISITOR_PORT: String(visitor),
    WORKER_PORT: String(worker),
    DATA_DIR: folder,
    SECRET_KEY: 'cd'.repeat(32),
    LOG_LEVEL: 'error',
    // The browser of a test says where it comes from, as a proxy of ours would.
    TRUST_PROXY: 'yes',
    ALLOWED_PRIVATE: ports.map((p) => `localhost:${p}`).join(','),
    CHROMIUM: findProgram('chromium') ?? '/usr/bin/chromium',
    ...more,
  };
  const processes = new Processes();
  const portOf = { web, visitor, worker };
  await Promise.all((['web', 'visitor', 'worker'] as const).map((n) => processes.start(n, env, portOf[n])));
  const browser = await chromium.launch({ executablePath: env.CHROMIUM, args: FLAGS });
  const origin = `http://localhost:${web}`;
  return {
    origin,
    visitorOrigin: `http://localhost:${visitor}`,
    store,
    browser,
    folder,
    processes,
    restartDatabase: async () => {
      await run('pkill', ['-9', '-f', `mariadbd.*${folder}`]);
      await new Promise((done) => setTimeout(done, 1500));
      mariadb = await startMariadb(folder, database, true);
    },
    startAgain: (name) => processes.start(name, env, portOf[name]),
    signedIn: async (role = 'officer') => {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        permissions: ['clipboard-read', 'clipboard-write'],
      });
      const answer = await context.request.post(`${origin}/api/accounts/sign-in`, {
        data: { email: `${role.replace(' ', '.')}@test.example`, password: PASSWORD },
        headers: { origin },
      });
      expect(answer.status()).toBe(200);
      return context.newPage();
    },
    stop: async () => {
      await browser.close();
      await processes.stop();
      await store.close();
      await mariadb.stop();
      await rm(folder, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

interface AxeViolation {
  readonly id: string;
  readonly impact?: string | null;
  readonly nodes: readonly { readonly html: string }[];
}

/** Nothing serious or critical by axe, on the page as it stands. */
export async function expectAccessible(page: Page, where: string): Promise<void> {
  const { violations } = (await new AxeBuilder({ page }).exclude('iframe').analyze()) as {
    violations: readonly AxeViolation[];
  };
  const grave = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  expect(
    grave.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`),
    where,
  ).toEqual([]);
}
