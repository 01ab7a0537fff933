import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chown, lstat, mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { log } from '../../../log.ts';
import { projectFolder } from '../../../processes/process.ts';

/** A user that owns nothing and is in no group; no account of the machine has this number. */
const SWEEPER = 64_321;
/** Bytes of data of one process. A browser asks for four gigabytes for a moment while it starts. */
const MOST_DATA = 4_800_000_000;
/** Processes and threads of all sweeps of a machine. */
const MOST_TASKS = 6000;

/** How the browser that sweeps is held. */
export interface Confinement {
  /** What to start in its place. */
  readonly program: string;
  readonly env: Readonly<Record<string, string>>;
  /** Whether the kernel lets it put its own pages into a sandbox. */
  readonly sandbox: boolean;
}

const runsAsRoot = () => process.getuid?.() === 0;

let sandboxed: Promise<boolean> | undefined;

/** Pages can be kept in a sandbox where the kernel lets anybody have namespaces of their own. */
function canSandbox(): Promise<boolean> {
  const probe = ['unshare', '--user', '--pid', '--fork', 'true'];
  const [program = '', ...args] = runsAsRoot()
    ? [
        'setpriv',
        '--reuid',
        `${SWEEPER}`,
        '--regid',
        `${SWEEPER}`,
        '--clear-groups',
        '--no-new-privs',
        ...probe,
      ]
    : probe;
  sandboxed ??= new Promise((answer) => {
    execFile(program, args, { timeout: 5000 }, (error) => {
      if (error) log.warn('the kernel gives no sandbox: pages that are swept run without one');
      answer(!error);
    });
  });
  return sandboxed;
}

export async function confine(executable: string, { home, tmp }: VisitFolder): Promise<Confinement> {
  return {
    program: join(projectFolder(), 'src/server/websites/crawl/browser/confined-browser.sh'),
    // Nothing else of our environment: it holds the keys.
    env: {
      PATH: '/usr/local/bin:/usr/bin:/bin:/usr/sbin:/sbin',
      HOME: home,
      TMPDIR: tmp,
      LANG: 'C.UTF-8',
      YARE_BROWSER: executable,
      YARE_UID: runsAsRoot() ? String(SWEEPER) : '',
      YARE_MOST_DATA: String(MOST_DATA),
      YARE_MOST_TASKS: String(MOST_TASKS),
    },
    sandbox: await canSandbox(),
  };
}

/**
 * Where visits have their folders. The sweeping user cannot get to what lies below folders of ours, so its own lie where
 * anybody may be.
 */
export function visitsFolder(profiles: string): string {
  if (!runsAsRoot()) return profiles;
  return join(tmpdir(), `yare-visits-${createHash('sha256').update(profiles).digest('hex').slice(0, 12)}`);
}

/** Where one visit keeps what it writes. */
export interface VisitFolder {
  readonly home: string;
  /** A short path: a socket lies in it, and may have no more than 107 bytes of name. */
  readonly tmp: string;
}

/** A new folder for one visit that names the process that made it, with the given files in it. */
export async function makeVisitFolder(
  profiles: string,
  files: Readonly<Record<string, string>>,
): Promise<VisitFolder> {
  const all = visitsFolder(profiles);
  await mkdir(all, { recursive: true, mode: 0o711 });
  if (runsAsRoot()) await requireOwn(all);
  const home = await mkdtemp(join(all, `${await ownName()}-`));
  const tmp = tmpOf(home);
  await mkdir(tmp, { mode: 0o700 });
  for (const [name, text] of Object.entries(files)) {
    await mkdir(join(home, name, '..'), { recursive: true });
    await writeFile(join(home, name), text);
  }
  if (runsAsRoot()) for (const folder of [home, tmp]) await give(folder);
  return { home, tmp };
}

export async function removeVisitFolder({ home, tmp }: VisitFolder): Promise<void> {
  for (const folder of [home, tmp])
    await rm(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
}

function tmpOf(home: string): string {
  return join(tmpdir(), `yare-${home.slice(-6)}`);
}

/** In a place where anybody may make folders, one with our name may be somebody else's. */
async function requireOwn(folder: string): Promise<void> {
  const found = await lstat(folder);
  if (!found.isDirectory() || found.uid !== process.getuid?.() || (found.mode & 0o022) !== 0)
    throw new Error(`${folder} is not a folder that only this user writes to. Remove it.`);
}

async function give(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true, recursive: true }))
    await chown(join(entry.parentPath, entry.name), SWEEPER, SWEEPER);
  await chown(folder, SWEEPER, SWEEPER);
}

/** Removes the folders that processes of this machine left which are no more. */
export async function removeLeftVisits(profiles: string): Promise<void> {
  const all = visitsFolder(profiles);
  for (const name of await readdir(all).catch(() => [])) {
    const [, host = '', pid = '', begun = ''] = /^visit-([^-]+)-(\d+)-(\d+)-/.exec(name) ?? [];
    if (host !== machine() || (await begunAt(Number(pid))) === begun) continue;
    const home = join(all, name);
    await removeVisitFolder({ home, tmp: tmpOf(home) }).catch(() => {});
  }
}

async function ownName(): Promise<string> {
  return `visit-${machine()}-${process.pid}-${await begunAt(process.pid)}`;
}

function machine(): string {
  return hostname().replace(/[^A-Za-z0-9.]/g, '_') || 'machine';
}

/** When a process began, in ticks since the machine did: with its number it is the same process. '' where it is gone. */
async function begunAt(pid: number): Promise<string> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '');
  // The name, in brackets, may hold anything.
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
}
