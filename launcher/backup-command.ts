import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { readFile, rm, stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { backupFailed, backupIsGood, noteProof, type MadeBackup } from '../src/server/backup/backup-runs.ts';
import { openStore } from '../src/server/store/pool.ts';
import { backUp, SHORTEST } from './backup.ts';
import { claimDataFolder } from './data-folder.ts';
import { databaseUrl } from './database-url.ts';
import { KeptDatabase } from './kept-database.ts';
import { LauncherError } from './launcher-error.ts';
import { installPrerequisites } from './prerequisites.ts';
import { say } from './project.ts';
import { checkBackup, proveBackup, requireEmptyFolder, restoreFiles, restoreInto } from './restore.ts';
import { launcherSettings, settingsAsSet } from './settings.ts';

export const BACKUP_USAGE = `./yare backup FILE [--prove]

  Writes all there is into FILE, while it is used, sealed with a passphrase of ${SHORTEST} characters or more: that in the
  file BACKUP_PASSPHRASE_FILE names, or in BACKUP_PASSPHRASE. --prove restores it into a database that is thrown away,
  verifies the ledger in it, and notes that.

./yare prove-backup FILE

  The same for a backup that was made earlier.

./yare restore FILE

  Restores into an empty DATA_DIR, or into the empty database at DATABASE_URL.
`;

/** The passphrase that is set. Throws a LauncherError for none, and for one that is too short. */
export async function backupPassphrase(environment: NodeJS.ProcessEnv = process.env): Promise<string> {
  const file = environment['BACKUP_PASSPHRASE_FILE'];
  if (file && !existsSync(file))
    throw new LauncherError(`There is no file ${file} (BACKUP_PASSPHRASE_FILE).`);
  const passphrase = file ? (await readFile(file, 'utf8')).trim() : (environment['BACKUP_PASSPHRASE'] ?? '');
  if (passphrase.length < SHORTEST)
    throw new LauncherError(
      passphrase === ''
        ? 'Set BACKUP_PASSPHRASE_FILE to a file with the passphrase that opens the backup. Keep it elsewhere: nobody can open one without it.'
        : `The passphrase has ${passphrase.length} characters; ${SHORTEST} at least.`,
    );
  return passphrase;
}

export async function backupCommand(args: readonly string[]): Promise<number> {
  const [file, option, ...more] = args;
  if (!file || file.startsWith('-') || more.length > 0 || (option !== undefined && option !== '--prove')) {
    process.stderr.write(BACKUP_USAGE);
    return 2;
  }
  const passphrase = await backupPassphrase();
  const url = await databaseUrl();
  const made = await backUp(url, await launcherSettings(), resolve(file), passphrase);
  say(`${file}: ${made.size} bytes, SHA-256 ${made.digest.toString('hex')}`);
  return option === '--prove' ? prove(url, resolve(file), passphrase, made) : 0;
}

export async function proveBackupCommand(args: readonly string[]): Promise<number> {
  const [file, ...more] = args;
  if (!file || file.startsWith('-') || more.length > 0) {
    process.stderr.write(BACKUP_USAGE);
    return 2;
  }
  const passphrase = await backupPassphrase();
  const kept = await checkBackup(file, passphrase);
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(file)) hash.update(chunk as Buffer);
  const made: MadeBackup = {
    ...{ madeAt: new Date(kept.madeAt), file: basename(file), size: (await stat(file)).size },
    digest: hash.digest(),
  };
  return prove(await databaseUrl(), resolve(file), passphrase, made);
}

/** Restores a backup elsewhere and notes what came of it. Exit code 1 where it could not be. */
export async function prove(
  url: string,
  file: string,
  passphrase: string,
  made: MadeBackup,
): Promise<number> {
  await installPrerequisites({ mariadb: true, chromium: false });
  const store = openStore(url, 2);
  try {
    const { entries, trees, accounts } = await proveBackup(file, passphrase);
    await noteProof(store, new Date(), made, { entries });
    await backupIsGood(store);
    say(`Restored and in order: ${entries} ledger entries in ${trees} trees, ${accounts} accounts.`);
    return 0;
  } catch (error) {
    const problem = (error as Error).message;
    await noteProof(store, new Date(), made, { problem });
    await backupFailed(store, new Date(), problem);
    process.stderr.write(`It could not be restored: ${problem}\n`);
    return 1;
  } finally {
    await store.close();
  }
}

export async function restoreCommand(args: readonly string[]): Promise<number> {
  const [file, ...more] = args;
  if (!file || file.startsWith('-') || more.length > 0) {
    process.stderr.write(BACKUP_USAGE);
    return 2;
  }
  const passphrase = await backupPassphrase();
  const settings = settingsAsSet();
  const own = settings.DATABASE_URL === undefined;
  await requireEmptyFolder(settings.DATA_DIR);
  const kept = await checkBackup(file, passphrase);
  if (process.env['SECRET_KEY'] && process.env['SECRET_KEY'] !== kept.secretKey)
    throw new LauncherError(
      'SECRET_KEY is not the one this was backed up with. Leave it out: it is restored into DATA_DIR. Nothing was changed.',
    );
  await installPrerequisites({ mariadb: own, chromium: false });
  await restoreFiles(settings.DATA_DIR, kept);
  const release = await claimDataFolder(settings.DATA_DIR);
  let database: KeptDatabase | undefined;
  let isRestored = false;
  try {
    let url = settings.DATABASE_URL ?? '';
    if (own) {
      const kept = await KeptDatabase.start(settings.DATA_DIR, settings.DATABASE_PORT, () => {});
      database = kept;
      ({ url } = kept);
    }
    const restored = await restoreInto(url, file, passphrase);
    say(
      `Restored what was there on ${kept.madeAt}: ${restored.accounts} accounts, and a ledger in order with ${restored.entries} entries in ${restored.trees} trees.\nThe secret key is in ${settings.DATA_DIR}. Start it with ./yare start --empty.`,
    );
    isRestored = true;
    return 0;
  } finally {
    await database?.stop();
    await release();
    // The folder was empty: it is so again, for another try.
    if (!isRestored) await rm(settings.DATA_DIR, { recursive: true, force: true });
  }
}
