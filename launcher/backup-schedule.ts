import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { nextTime } from '../src/core/schedule/schedule.ts';
import { backupFailed } from '../src/server/backup/backup-runs.ts';
import { openStore } from '../src/server/store/pool.ts';
import type { Settings } from '../src/server/settings.ts';
import { backUp } from './backup.ts';
import { backupPassphrase, prove } from './backup-command.ts';
import { say } from './project.ts';

const NAME = /^yare-\d{4}-\d{2}-\d{2}-\d{4}\.backup$/;
const LOOK_MS = 30_000;

/** Names of backups in a folder that are over, the newest of `keep` aside. */
export function overBackups(names: readonly string[], keep: number): readonly string[] {
  const ours = names.filter((n) => NAME.test(n)).toSorted();
  return ours.slice(0, Math.max(0, ours.length - keep));
}

export function backupName(at: Date): string {
  return `yare-${at.toISOString().slice(0, 16).replace('T', '-').replace(':', '')}.backup`;
}

/** Makes a backup every day at its time, proves it, and lets the oldest go, as long as this runs. Returns what stops it. */
export function keepBackups(url: string, settings: Settings): () => void {
  const { BACKUP_DIR, BACKUP_AT, BACKUP_KEEP } = settings;
  if (BACKUP_DIR === '') return () => {};
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const schedule = { every: 'day', weekday: 1, day: 1, at: BACKUP_AT, zone } as const;
  let next = nextTime(schedule, new Date());
  let isBusy = false;
  const look = async () => {
    if (isBusy || Date.now() < next.getTime()) return;
    isBusy = true;
    try {
      await makeOne(url, settings, BACKUP_DIR, BACKUP_KEEP);
    } catch (error) {
      await tellFailed(url, (error as Error).message);
    } finally {
      next = nextTime(schedule, new Date());
      isBusy = false;
    }
  };
  const timer = setInterval(() => void look(), LOOK_MS);
  return () => clearInterval(timer);
}

/** Here at once, and on the desk where its database answers. */
async function tellFailed(url: string, why: string): Promise<void> {
  say(`◆ The backup of today was not made: ${why}`);
  const store = openStore(url, 2);
  await backupFailed(store, new Date(), why)
    .catch((error: Error) => say(`The desk could not be told: ${error.message}`))
    .finally(() => store.close());
}

async function makeOne(url: string, settings: Settings, folder: string, keep: number): Promise<void> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const passphrase = await backupPassphrase();
  const now = new Date();
  const file = join(folder, backupName(now));
  const made = await backUp(url, settings, file, passphrase, now);
  // The older ones stay until this one is known to be good.
  if ((await prove(url, file, passphrase, made)) !== 0) return;
  for (const name of overBackups(await readdir(folder), keep)) await rm(join(folder, name), { force: true });
}
