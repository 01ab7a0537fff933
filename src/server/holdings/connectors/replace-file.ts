import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { lstatSync, type Stats } from 'node:fs';
import { constants, link, open, rename, rm, unlink } from 'node:fs/promises';
import { promisify } from 'node:util';
import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import { nameBytes } from '../../../core/text/name-text.ts';
import { ItemError, type ListedItem } from './connector.ts';
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
    const beside = at(besideOf(name));
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
        await copyAttributes(old, beside);
        await handle.sync();
      } finally {
        await handle.close();
      }
      requireSame(old, version);
      await rename(beside, old);
    } catch (error) {
      await rm(beside, { force: true });
      throw error;
    }
    await syncFolder(folder);
    return lstatSync(old);
  });
}

/** Takes a file away, where it is of this version still; with what putting it back needs. */
export async function removeFile(
  tree: FileTree,
  place: string,
  name: string,
  version: string,
): Promise<Json> {
  return tree.inside(place, async (folder) => {
    const path = Buffer.concat([Buffer.from(`${folder}/`), nameBytes(name)]);
    const is = requireSame(path, version);
    if (is.nlink > 1) throw new ItemError('it has other names (hard links), which would keep it');
    await unlink(path);
    await syncFolder(folder);
    return { mode: is.mode & 0o7777, uid: is.uid, gid: is.gid, changed: is.mtimeMs };
  });
}

const Mark = z.object({ mode: z.int(), uid: z.int(), gid: z.int(), changed: z.number() });

/**
 * Puts a file back that `removeFile` took away, where its name is free; its owner where this program may give that. Where
 * nobody noted what else it had, with the rights of one that is new.
 */
export async function restoreFile(
  tree: FileTree,
  place: string,
  name: string,
  bytes: Uint8Array,
  { changed: day }: Pick<ListedItem, 'changed'>,
  mark: Json,
): Promise<Stats> {
  const known = mark === null ? undefined : Mark.parse(mark);
  const changed = known?.changed ?? (day === null ? Date.now() : Date.parse(day));
  return tree.inside(place, async (folder) => {
    const at = (file: Uint8Array) => Buffer.concat([Buffer.from(`${folder}/`), file]);
    const [path, beside] = [at(nameBytes(name)), at(besideOf(name))];
    const handle = await open(
      beside,
      constants.O_WRONLY | constants.O_CREAT | constants.O_TRUNC | constants.O_NOFOLLOW,
      0o600,
    );
    try {
      await handle.writeFile(bytes);
      if (known) await handle.chown(known.uid, known.gid).catch(() => {});
      await handle.chmod(known?.mode ?? 0o640);
      await handle.utimes(new Date(changed), new Date(changed));
      await handle.sync();
      // Unlike a move, a second name takes nobody's place.
      await link(beside, path).catch((error: unknown) => {
        if ((error as NodeJS.ErrnoException).code === 'EEXIST')
          throw new ItemError('something else has its name by now');
        throw error;
      });
    } finally {
      await handle.close();
      await rm(beside, { force: true });
    }
    await syncFolder(folder);
    return lstatSync(path);
  });
}

/** Owner, rights, access lists and times, of a file of a folder that is held open. Throws an ItemError where they cannot be given. */
export async function copyAttributes(from: Buffer, to: Buffer): Promise<void> {
  // With the folder held open, the names lead where they led.
  await run('cp', ['--attributes-only', '--preserve=all', '--no-dereference', '--', ...texts(from, to)]);
  const [is, made] = [lstatSync(from), lstatSync(to)];
  if (made.uid !== is.uid || made.gid !== is.gid)
    throw new ItemError(`it belongs to ${ownerOf(is)}, to whom this program cannot give it back`);
}

export async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, constants.O_RDONLY | constants.O_DIRECTORY);
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** What a file is called while it is written beside another. */
export function besideOf(name: string): Buffer {
  return Buffer.from(BESIDE + createHash('sha256').update(nameBytes(name)).digest('hex').slice(0, 32));
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
