import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { LauncherError } from './launcher-error.ts';
import { launcherSettings } from './settings.ts';

/** The database at DATABASE_URL, or the one that `./yare start` runs. Throws a LauncherError where there is none. */
export async function databaseUrl(): Promise<string> {
  const settings = await launcherSettings();
  if (settings.DATABASE_URL) return settings.DATABASE_URL;
  const file = join(settings.DATA_DIR, 'database-password');
  if (!existsSync(file))
    throw new LauncherError(
      'There is no database yet. Start it with ./yare start in another window, or set DATABASE_URL.',
    );
  return `mysql://yare:${(await readFile(file, 'utf8')).trim()}@127.0.0.1:${settings.DATABASE_PORT}/yare`;
}
