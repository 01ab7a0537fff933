import { access, statfs } from 'node:fs/promises';
import { existsSync, readdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { delimiter, join } from 'node:path';
import { LauncherError } from './launcher-error.ts';
import { say } from './project.ts';
import { run } from './run.ts';

interface Needed {
  readonly package: string;
  readonly programs: readonly string[];
}

const MARIADB: Needed = {
  package: 'mariadb-server',
  programs: ['mariadbd', 'mariadb-install-db', 'mariadb', 'mariadb-dump'],
};
const CHROMIUM: Needed = { package: 'chromium', programs: ['chromium'] };
/** What connectors are tested against. */
const SERVERS: readonly Needed[] = [
  { package: 'dovecot-imapd', programs: ['dovecot'] },
  { package: 'postgresql', programs: ['postgres'] },
  { package: 'acl', programs: ['getfacl', 'setfacl'] },
  { package: 'slapd', programs: ['slapd'] },
];

/** Installs what is missing with apt-get when root; otherwise says exactly what to run. */
export async function installPrerequisites(needs: {
  mariadb: boolean;
  chromium: boolean;
  servers?: boolean;
}): Promise<void> {
  const wanted = [
    ...(needs.mariadb ? [MARIADB] : []),
    ...(needs.chromium ? [CHROMIUM] : []),
    ...(needs.servers ? SERVERS : []),
  ];
  const missing = wanted.filter((n) => !n.programs.every((p) => findProgram(p)));
  if (missing.length === 0) return;
  const packages = missing.map((m) => m.package);
  const command = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (process.getuid?.() !== 0)
    throw new LauncherError(
      `Missing on this machine: ${packages.join(', ')}. Run this, then start again:\n\n  sudo ${command}`,
    );
  if (!findProgram('apt-get'))
    throw new LauncherError(
      `Missing on this machine: ${packages.join(', ')}, and there is no apt-get to install them with.`,
    );
  say(`Installing ${packages.join(' and ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update', '-qq'], { env });
  const installed = await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
    env,
  });
  if (installed.code !== 0)
    throw new LauncherError(
      `Could not install ${packages.join(', ')}:\n${installed.output.split('\n').slice(-12).join('\n')}\nRun it by hand, then start again:\n\n  ${command}`,
    );
}

export function findProgram(name: string): string | undefined {
  const folders = [
    ...(process.env['PATH'] ?? '').split(delimiter),
    '/usr/sbin',
    '/usr/bin',
    '/usr/local/bin',
    '/sbin',
    '/bin',
    // Where Debian keeps the programs of PostgreSQL, by version.
    ...postgresFolders(),
  ];
  return folders.map((f) => join(f, name)).find((path) => existsSync(path));
}

function postgresFolders(): readonly string[] {
  const home = '/usr/lib/postgresql';
  return existsSync(home) ? readdirSync(home).map((version) => join(home, version, 'bin')) : [];
}

/** Throws a LauncherError naming the setting of the first busy port. */
export async function requireFreePorts(ports: Readonly<Record<string, number>>): Promise<void> {
  const taken = new Map<number, string>();
  for (const [setting, port] of Object.entries(ports)) {
    const other = taken.get(port);
    if (other) throw new LauncherError(`${setting} and ${other} are both ${port}. Give each its own port.`);
    taken.set(port, setting);
    if (!(await isFree(port)))
      throw new LauncherError(
        `Port ${port} is taken by another program. Set ${setting} to a free one, for example:\n\n  ${setting}=${port + 100} ./yare start`,
      );
  }
}

export function isFree(port: number): Promise<boolean> {
  return new Promise((answer) => {
    const server = createServer();
    server.once('error', () => answer(false));
    server.listen(port, '127.0.0.1', () => server.close(() => answer(true)));
  });
}

/** A new database needs room for its logs; a full disk is told before anything is written. */
export async function requireRoom(folder: string, bytes: number): Promise<void> {
  await access(folder).catch(() => {
    throw new LauncherError(
      `The data folder ${folder} cannot be used. Set DATA_DIR to one that can be written to.`,
    );
  });
  const { bavail, bsize } = await statfs(folder);
  if (bavail * bsize < bytes)
    throw new LauncherError(
      `Only ${Math.round((bavail * bsize) / 1e6)} MB are free for ${folder}; ${Math.round(bytes / 1e6)} MB are needed. Make room, or set DATA_DIR to another disk. Nothing was written.`,
    );
}
