import { spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { join } from 'node:path';
import { DEMO_PASSWORD } from '../demo/accounts/area.ts';
import { loadDemo, isEmpty } from '../demo/load.ts';
import type { Settings } from '../src/server/settings.ts';
import { build, buildPrograms } from './build.ts';
import { claimDataFolder } from './data-folder.ts';
import { tellEnded } from './desk-news.ts';
import { keepBackups } from './backup-schedule.ts';
import { KeptDatabase } from './kept-database.ts';
import { prepareDatabase } from './database-command.ts';
import { installPrerequisites, requireFreePorts, requireRoom } from './prerequisites.ts';
import { Processes, type Ended } from './processes.ts';
import { PROJECT, say } from './project.ts';
import { asEnvironment, launcherSettings } from './settings.ts';

export interface StartOptions {
  readonly empty: boolean;
  readonly reload: boolean;
}

const ROOM = 600_000_000;

/** Runs everything until Ctrl-C. What ends by itself meanwhile is started again. */
export async function start({ empty, reload }: StartOptions): Promise<number> {
  const settings = await launcherSettings();
  const own = settings.DATABASE_URL === undefined;
  const {
    WEB_PORT,
    VISITOR_PORT,
    STANDIN_PORT,
    STANDIN_MAIL_PORT,
    STANDIN_TLS_PORT,
    WORKER_PORT,
    SYSLOG_PORT,
    GATEWAY_PORT,
    INTAKE_PORT,
    DATABASE_PORT,
  } = settings;
  const release = await claimDataFolder(settings.DATA_DIR);
  await requireFreePorts({
    WEB_PORT,
    VISITOR_PORT,
    STANDIN_PORT,
    STANDIN_MAIL_PORT,
    STANDIN_TLS_PORT,
    WORKER_PORT,
    SYSLOG_PORT,
    GATEWAY_PORT,
    INTAKE_PORT,
    ...(own ? { DATABASE_PORT } : {}),
  });
  await installPrerequisites({ mariadb: own, chromium: true });
  await requireRoom(settings.DATA_DIR, ROOM);
  await build();

  const stopped = stopSignal();
  let url = settings.DATABASE_URL ?? '';
  const ended = (one: Ended) => tellEnded(url, one);
  const processes = new Processes(ended);
  let database: KeptDatabase | undefined;
  let stopBackups = () => {};
  const bringUp = async () => {
    if (own) {
      say('Starting the database …');
      const kept = await KeptDatabase.start(settings.DATA_DIR, DATABASE_PORT, ended);
      database = kept;
      ({ url } = kept);
    }
    await fill(url, { ...settings, DATABASE_URL: url }, empty);
    const env = asEnvironment({
      ...settings,
      DATABASE_URL: url,
      // The stand-ins bring a name server of their own.
      DNS_SERVER: settings.DNS_SERVER || `127.0.0.1:${STANDIN_PORT}`,
      // And a booking database, which lies beside the program's own.
      ...(own && !empty
        ? { ALLOWED_PRIVATE: withOwn(settings.ALLOWED_PRIVATE, `127.0.0.1:${DATABASE_PORT}`) }
        : {}),
      // And a mailbox, into which all mail goes that no other server is set for.
      SMTP_URL: settings.SMTP_URL || `smtp://127.0.0.1:${settings.STANDIN_MAIL_PORT}`,
      // And a catalogue of models.
      MODEL_CATALOGUE: settings.MODEL_CATALOGUE || (empty ? '' : `http://models.localhost:${STANDIN_PORT}`),
      LOG_LEVEL: process.env['LOG_LEVEL'] ? settings.LOG_LEVEL : 'warn',
    });
    say('Starting the processes …');
    await processes.start('standins', env, STANDIN_PORT);
    await processes.start('visitor', env, VISITOR_PORT);
    if (!reload) await processes.start('web', env, WEB_PORT);
    await processes.start('worker', env, WORKER_PORT);
    await processes.start('intake', env, INTAKE_PORT);
    stopBackups = keepBackups(url, settings);
    announce(settings, empty);
    if (reload) reloadOnChange(processes, env, settings);
  };
  try {
    const up = bringUp();
    // Ctrl-C on the way up: what the rest of it meets is of no interest then.
    up.catch(() => {});
    await Promise.race([up, stopped]);
    await stopped;
    say('\nStopping …');
    return 0;
  } finally {
    stopBackups();
    await processes.stop();
    await database?.stop();
    await release();
  }
}

function withOwn(allowed: string, own: string): string {
  return [...allowed.split(','), own].filter(Boolean).join(',');
}

async function fill(url: string, settings: Settings, empty: boolean): Promise<void> {
  const { store, applied } = await prepareDatabase(url);
  try {
    if (applied.length) say(`Applied ${applied.length} migrations.`);
    if (!empty && (await isEmpty(store))) {
      say('Loading the demo: Brindle Strait Ferries …');
      await loadDemo({ store, settings, now: () => new Date() }, (words) => say(`  ${words}`));
    }
  } finally {
    await store.close();
  }
}

function announce(settings: Settings, empty: boolean): void {
  say(`
Yare Warden is ready.

  The desk        ${settings.WEB_ORIGIN}
  Visitor service ${settings.VISITOR_ORIGIN}
  Demo websites   http://brindlestrait.localhost:${settings.STANDIN_PORT}   (also crew., cruises. and freight.)
  Mail that left  http://mailbox.localhost:${settings.STANDIN_PORT}
  Their office    http://office.localhost:${settings.STANDIN_PORT}   (an editor and a mail program)
  A device        http://device.localhost:${settings.STANDIN_PORT}   (let in with a token from the desk)
  Their mail      smtp://localhost:${settings.GATEWAY_PORT}   (what goes out passes the rules)
  Their tags      http://brindlestrait.localhost:${settings.STANDIN_PORT}/-/tags
${
  empty
    ? '\n  No accounts yet? Add the first in another window:\n\n    ./yare add-account you@company.example "Your Name" officer'
    : `
  Sign in as ines.abara@brindlestrait.example    privacy officer
          or emil.varga@brindlestrait.example    auditor, reads only
  The password of all eight demo accounts is     ${DEMO_PASSWORD}`
}

Ctrl-C stops all of it.`);
}

/** Resolves at the first SIGINT or SIGTERM. */
function stopSignal(): Promise<void> {
  return new Promise((stop) => {
    process.once('SIGINT', stop);
    process.once('SIGTERM', stop);
  });
}

/**
 * For developers: Astro's own server has the desk and reloads it; the other processes are built and started again
 * when something they are made of changes.
 */
function reloadOnChange(processes: Processes, env: Record<string, string>, settings: Settings): void {
  const desk = spawn(join(PROJECT, 'node_modules/.bin/astro'), ['dev', '--port', String(settings.WEB_PORT)], {
    cwd: PROJECT,
    env: { ...process.env, ...env },
    stdio: 'inherit',
  });
  process.once('exit', () => desk.kill());
  let pending: NodeJS.Timeout | undefined;
  let turn = Promise.resolve();
  const again = async () => {
    await buildPrograms();
    for (const [name, port] of [
      ['standins', settings.STANDIN_PORT],
      ['visitor', settings.VISITOR_PORT],
      ['worker', settings.WORKER_PORT],
      ['intake', settings.INTAKE_PORT],
    ] as const) {
      await processes.end(name);
      await processes.start(name, env, port);
    }
    say('Built and started again.');
  };
  const changed = () => {
    clearTimeout(pending);
    pending = setTimeout(() => (turn = turn.then(again).catch((error: Error) => say(error.message))), 300);
  };
  for (const folder of ['src/core', 'src/server', 'src/visitor', 'standins'])
    watch(join(PROJECT, folder), { recursive: true }, changed);
}
