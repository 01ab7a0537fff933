import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { lstatSync, type Stats } from 'node:fs';
import { constants, open, rename, rm } from 'node:fs/promises';
import { promisify } from 'node:util';
import { nameBytes } from '../../../core/holdings/sources/name-text.ts';
import { ItemError } from './connector.ts';
import { ownerOf, versionOf, type FileTree } from './file-tree.ts';

const run = promisify(execFile);

const BESIDE = '.yare-new-';

/** Whether a file is one that is being written beside another; what a killed process left of it is written over next time. */
export function isBeside(name: string): boolean {
  return name.startsWith(BESIDE);
}

/**
 * Writes a file beside another, on the disk to the last byte, and puts it in the other's place in one step: whoever reads
 * sees the old one or the new one. Owner, rights, access lists and times are the old one's. Throws an ItemError where
 * the old one is not of this version any more, or has what the new one cannot be given.
 */
export async function replaceFile(
  tree: FileTree,
  place: string,
  name: string,
  version: string,
  bytes: Uint8Array,
): Promise<Stats> {
  return tree.inside(place, async (folder) => {
    const at = (file: Uint8Array) => Buffer.concat([Buffer.from(`${folder}/`), file]);
    const old = at(nameBytes(name));
    const beside = at(
      Buffer.from(BESIDE + createHash('sha256').update(nameBytes(name)).digest('hex').slice(0, 32)),
    );
    const before = requireSame(old, version);
    if (before.nlink > 1)
      throw new ItemError('it has other names (hard links), which would keep the old one');
    try {
      const handle = await open(
        beside,
        constants.O_WRONLY | constants.O_CREAT | constants.O_TRUNC | constants.O_NOFOLLOW,
        0o600,
      );
      try {
        await handle.writeFile(bytes);
        // With the folder held open, the names lead where they led.
        await run('cp', [
          '--attributes-only',
          '--preserve=all',
          '--no-dereference',
          '--',
          ...texts(old, beside),
        ]);
        await handle.sync();
      } finally {
        await handle.close();
      }
      const made = lstatSync(beside);
      if (made.uid !== before.uid || made.gid !== before.gid)
        throw new ItemError(`it belongs to ${ownerOf(before)}, to whom this program cannot give it back`);
      requireSame(old, version);
      await rename(beside, old);
    } catch (error) {
      await rm(beside, { force: true });
      throw error;
    }
    const handle = await open(folder, constants.O_RDONLY | constants.O_DIRECTORY);
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
    return lstatSync(old);
  });
}

function requireSame(path: Buffer, version: string): Stats {
  const is = lstatSync(path, { throwIfNoEntry: false });
  if (!is?.isFile()) throw new ItemError('it is gone, or no plain file any more');
  if (versionOf(is) !== version) throw new ItemError('somebody changed it meanwhile');
  return is;
}

/** Programs are given text; a name that is none cannot be told to one. */
function texts(...paths: readonly Buffer[]): readonly string[] {
  return paths.map((path) => {
    const text = path.toString();
    if (!Buffer.from(text).equals(path)) throw new ItemError('its name is not written in UTF-8');
    // The folder that is held open is another process's to cp.
    return text.replace('/proc/self/', `/proc/${process.pid}/`);
  });
}
