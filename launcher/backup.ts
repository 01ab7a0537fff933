import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { open, readFile, rename, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Readable } from 'node:stream';
import { createGzip } from 'node:zlib';
import { noteBackup, type MadeBackup } from '../src/server/backup/backup-runs.ts';
import { sealArchive } from '../src/server/backup/sealed-archive.ts';
import { lastTree } from '../src/server/evidence/ledger.ts';
import { openStore } from '../src/server/store/pool.ts';
import { explain } from './database-command.ts';
import { dump } from './dump.ts';
import { LauncherError } from './launcher-error.ts';

/** What stands before the SQL in a backup, in one line of JSON. */
export interface Kept {
  readonly format: 1;
  readonly madeAt: string;
  /** What keys the hashes and seals what is kept secret: without it most of the rest says nothing. */
  readonly secretKey: string;
  /** Of the data folder, by name, in base64. */
  readonly files: Readonly<Record<string, string>>;
  /** The last sealed tree of the ledger, which the restored one has to have. */
  readonly head: { readonly tree: number; readonly head: string } | null;
}

/** Files of the data folder that the program cannot make anew as they were. */
const FILES = ['ledger-head.json', 'intake-certificate/key.pem', 'intake-certificate/cert.pem'];
/** A passphrase that is guessed in an afternoon protects nothing. */
export const SHORTEST = 12;

/**
 * Writes all there is into a file that the passphrase opens, while it is used: what was acknowledged before is in it, what
 * came later is not. A file of that name is replaced once the new one is whole.
 */
export async function backUp(
  url: string,
  { SECRET_KEY, DATA_DIR }: { readonly SECRET_KEY: string; readonly DATA_DIR: string },
  file: string,
  passphrase: string,
  now = new Date(),
): Promise<MadeBackup> {
  const store = openStore(url, 2);
  const part = `${file}.part`;
  try {
    const tree = await lastTree(store).catch((error: NodeJS.ErrnoException) => {
      throw explain(error, url);
    });
    const kept: Kept = {
      ...{ format: 1, madeAt: now.toISOString(), secretKey: SECRET_KEY, files: await keptFiles(DATA_DIR) },
      head: tree ? { tree: tree.number, head: tree.head } : null,
    };
    const hash = createHash('sha256');
    let size = 0;
    const handle = await open(part, 'w', 0o600).catch((error: NodeJS.ErrnoException) => {
      throw new LauncherError(`${part} cannot be written (${error.code}). Name a file in a folder that can.`);
    });
    try {
      for await (const chunk of sealArchive(passphrase, now, compressed(url, kept))) {
        hash.update(chunk);
        size += chunk.length;
        await handle.write(chunk);
      }
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(part, file);
    const made: MadeBackup = { madeAt: now, file: basename(file), size, digest: hash.digest() };
    await noteBackup(store, made);
    return made;
  } finally {
    await store.close();
    await rm(part, { force: true });
  }
}

function compressed(url: string, kept: Kept): AsyncIterable<Uint8Array> {
  const lines = async function* () {
    yield Buffer.from(`${JSON.stringify(kept)}\n`);
    yield* dump(url);
  };
  const source = Readable.from(lines(), { objectMode: false });
  const gzip = createGzip({ level: 4 });
  source.on('error', (error) => gzip.destroy(error));
  return source.pipe(gzip);
}

async function keptFiles(folder: string): Promise<Record<string, string>> {
  const files: Record<string, string> = {};
  for (const name of FILES) {
    const path = join(folder, name);
    if (existsSync(path)) files[name] = (await readFile(path)).toString('base64');
  }
  return files;
}
