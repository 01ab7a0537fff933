import { createReadStream, existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { z } from 'zod';
import { LedgerVerifier, writeLine } from '../src/core/evidence/ledger.ts';
import { ArchiveError, openArchive } from '../src/server/backup/sealed-archive.ts';
import { exportLedger } from '../src/server/evidence/ledger.ts';
import { Count } from '../src/server/store/columns.ts';
import { openStore, type Store } from '../src/server/store/pool.ts';
import { prepareDatabase } from './database-command.ts';
import { load } from './dump.ts';
import { freePorts } from './free-port.ts';
import { LauncherError } from './launcher-error.ts';
import { startMariadb } from './mariadb.ts';
import type { Kept } from './backup.ts';

const KeptLine = z.object({
  format: z.literal(1),
  madeAt: z.iso.datetime(),
  secretKey: z.string().regex(/^[0-9a-f]{64}$/),
  files: z.record(z.string(), z.base64()),
  head: z.object({ tree: z.number(), head: z.string() }).nullable(),
}) satisfies z.ZodType<Kept>;
const LONGEST_LINE = 10_000_000;

/** What came of restoring. */
export interface Restored {
  readonly kept: Kept;
  readonly entries: number;
  readonly trees: number;
  readonly accounts: number;
}

/** The line before the SQL, and the SQL after it. */
async function opened(
  file: string,
  passphrase: string,
): Promise<{ readonly kept: Kept; readonly sql: AsyncGenerator<Buffer> }> {
  const source = Readable.from(openArchive(passphrase, createReadStream(file)), { objectMode: false });
  const plain = createGunzip();
  source.on('error', (error) => plain.destroy(error));
  const chunks = source.pipe(plain)[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
  let held = Buffer.alloc(0);
  let end = -1;
  while (end < 0) {
    const { value, done } = await chunks.next();
    if (done || held.length > LONGEST_LINE) throw new ArchiveError('There is nothing of ours in this file.');
    held = Buffer.concat([held, value]);
    end = held.indexOf(10);
  }
  const kept = KeptLine.parse(JSON.parse(held.subarray(0, end).toString()));
  const rest = held.subarray(end + 1);
  return {
    kept,
    sql: (async function* () {
      yield rest;
      for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value;
    })(),
  };
}

/** Opens a backup to its end before anything is made of it. Throws a LauncherError that says what is wrong with it. */
export async function checkBackup(file: string, passphrase: string): Promise<Kept> {
  if (!existsSync(file)) throw new LauncherError(`There is no file ${file}.`);
  try {
    const { kept, sql } = await opened(file, passphrase);
    for await (const _ of sql);
    return kept;
  } catch (error) {
    if (error instanceof ArchiveError) throw new LauncherError(`${error.message} Nothing was changed.`);
    throw error;
  }
}

/** Restores into an empty database, brings it up to date, and verifies the ledger in it. */
export async function restoreInto(url: string, file: string, passphrase: string): Promise<Restored> {
  const empty = openStore(url, 1);
  try {
    const row = await empty.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM information_schema.tables WHERE table_schema = DATABASE()',
    );
    if (row?.n)
      throw new LauncherError('The database is not empty. Restore into an empty one; nothing was changed.');
  } finally {
    await empty.close();
  }
  const { kept, sql } = await opened(file, passphrase);
  await load(url, sql);
  const { store } = await prepareDatabase(url);
  try {
    // What waited to be sent may have been sent since: nobody gets it twice.
    await store.run(
      "UPDATE outgoing_message SET state = 'failed', error = 'It waited when this was backed up, and may have been sent since.', ended_at = NOW(3) WHERE state IN ('waiting', 'sending')",
    );
    const { entries, trees } = await verified(store, kept);
    const accounts = await store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM account');
    return { kept, entries, trees, accounts: accounts?.n ?? 0 };
  } finally {
    await store.close();
  }
}

/** Throws a LauncherError where the restored ledger is not the one that was backed up. */
async function verified(store: Store, { head }: Kept): Promise<{ entries: number; trees: number }> {
  const verifier = new LedgerVerifier(head?.head);
  for await (const line of exportLedger(store, new Date())) verifier.push(writeLine(line));
  const { ok, trees, entries, why } = verifier.end();
  if (!ok) throw new LauncherError(`The restored ledger is not in order: ${why ?? ''}`);
  return { entries, trees };
}

/** Puts back the files of the data folder; those that are there already stay. */
export async function restoreFiles(folder: string, { secretKey, files }: Kept): Promise<void> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  await writeFile(join(folder, 'secret-key'), secretKey, { mode: 0o600, flag: 'wx' });
  for (const [name, body] of Object.entries(files)) {
    if (!/^[\w-]+(\.[\w-]+)*(\/[\w-]+(\.[\w-]+)*)?$/.test(name)) continue;
    await mkdir(dirname(join(folder, name)), { recursive: true, mode: 0o700 });
    await writeFile(join(folder, name), Buffer.from(body, 'base64'), { mode: 0o600 });
  }
}

export async function requireEmptyFolder(folder: string): Promise<void> {
  const there = existsSync(folder) ? await readdir(folder) : [];
  if (there.length > 0)
    throw new LauncherError(
      `${folder} is not empty. Set DATA_DIR to a new folder to restore into; nothing was changed.`,
    );
}

/** Restores a backup into a database of its own that is thrown away. */
export async function proveBackup(file: string, passphrase: string): Promise<Restored> {
  await checkBackup(file, passphrase);
  const folder = await mkdtemp(join(tmpdir(), 'yare-proof-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    return await restoreInto(database.url, file, passphrase);
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true, maxRetries: 5 });
  }
}
