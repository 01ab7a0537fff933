import { randomBytes } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { readSettings, type Settings } from '../src/server/settings.ts';
import { keptOnce } from './kept-once.ts';
import { findProgram } from './prerequisites.ts';
import { LauncherError } from './launcher-error.ts';

/** Stands for the secret until the data folder is known. */
const NOT_YET = '0'.repeat(64);

/** The settings, with a secret that is made once and kept in the data folder, and the browser that is there. */
export async function launcherSettings(environment: NodeJS.ProcessEnv = process.env): Promise<Settings> {
  const settings = settingsAsSet(environment);
  await mkdir(settings.DATA_DIR, { recursive: true, mode: 0o700 }).catch((error: NodeJS.ErrnoException) => {
    throw new LauncherError(
      `The data folder ${settings.DATA_DIR} cannot be made (${error.code}). Set DATA_DIR to one that can.`,
    );
  });
  const SECRET_KEY = environment['SECRET_KEY'] ? settings.SECRET_KEY : await keptSecret(settings.DATA_DIR);
  return {
    ...settings,
    SECRET_KEY,
    CHROMIUM: environment['CHROMIUM'] || findProgram('chromium') || settings.CHROMIUM,
  };
}

/** The settings as they are set, while nothing is made in the data folder. */
export function settingsAsSet(environment: NodeJS.ProcessEnv = process.env): Settings {
  try {
    return readSettings({ ...environment, SECRET_KEY: environment['SECRET_KEY'] || NOT_YET });
  } catch (error) {
    throw new LauncherError(`Some settings cannot be used:\n${(error as Error).message}`);
  }
}

async function keptSecret(dataDir: string): Promise<string> {
  return keptOnce(join(dataDir, 'secret-key'), () => randomBytes(32).toString('hex'));
}

/** Settings as the environment of a process. */
export function asEnvironment(settings: Settings): Record<string, string> {
  return Object.fromEntries(
    Object.entries(settings)
      .filter(([, v]) => v !== undefined)
      .map(([k, v]) => [k, String(v)]),
  );
}
