import { existsSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { holdFile } from './held-file.ts';
import { LauncherError } from './launcher-error.ts';
import { say } from './project.ts';

const WAIT_MS = 15_000;

/**
 * Makes this launcher the only one on a data folder. What a launcher that was killed left running is stopped first.
 * Throws a LauncherError while another launcher is alive. Returns what gives the folder up.
 */
export async function claimDataFolder(dataDir: string): Promise<() => Promise<void>> {
  const file = join(dataDir, 'launcher-pid');
  const letGo = await holdFile(join(dataDir, 'launcher-lock'));
  if (!letGo)
    throw new LauncherError(
      `${dataDir} is in use by a Yare Warden that runs already (process ${(await readPid(file)) ?? 'that starts just now'}). Stop it, or set DATA_DIR and the ports for a second copy.`,
    );
  try {
    await stopLeftDatabase(join(dataDir, 'mariadb'));
    await writeFile(file, String(process.pid));
  } catch (error) {
    await letGo();
    throw error;
  }
  return async () => {
    await rm(file, { force: true });
    await letGo();
  };
}

/** A server of ours whose launcher is gone still holds its port and its files. */
async function stopLeftDatabase(home: string): Promise<void> {
  const pid = await readPid(join(home, 'mariadbd.pid'));
  if (pid === undefined || !(await commandOf(pid)).includes(`--datadir=${join(home, 'data')}`)) return;
  say('Stopping the database that an earlier start left running …');
  process.kill(pid, 'SIGTERM');
  for (const until = Date.now() + WAIT_MS; Date.now() < until;) {
    if ((await commandOf(pid)) === '') return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new LauncherError(
    `A database that an earlier start left running (process ${pid}) does not stop. End it by hand, then start again.`,
  );
}

async function readPid(file: string): Promise<number | undefined> {
  if (!existsSync(file)) return undefined;
  const pid = Number((await readFile(file, 'utf8')).trim());
  return Number.isInteger(pid) && pid > 0 ? pid : undefined;
}

/** The command line of a running process; empty when there is none. */
async function commandOf(pid: number): Promise<string> {
  return (await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '')).replaceAll('\0', ' ');
}
