import { constants, lstatSync } from 'node:fs';
import { open, readFile, rename, rm, type FileHandle } from 'node:fs/promises';
import { hostname } from 'node:os';
import { setTimeout as wait } from 'node:timers/promises';
import { nameBytes } from '../../../core/text/name-text.ts';
import { ItemError } from './connector.ts';
import { besideOf, copyAttributes, syncFolder } from './replace-file.ts';

/** Bytes of the file as it is, or new ones. */
export type MboxPiece = { readonly from: number; readonly to: number } | Uint8Array;

const LOCK_TRIES = 20;
const LOCK_WAIT_MS = 250;
/** A lock of ours that is older was left by a process that died, wherever that ran. */
const LOCK_OLD_MS = 60_000;
const OURS = 'yare ';
/** Who opens a mailbox to add a message has written it by then. */
const SETTLE_MS = 40;
const COPIED = 1 << 20;

/**
 * Writes an mbox file anew, from pieces that are chosen once it is locked (`name.lock`, as mail programs do), and puts it in
 * the old one's place in one step. What a program that heeds no lock adds meanwhile is taken over.
 *
 * @param folder a path that leads to the folder as it is held open.
 */
export async function rewriteMbox(
  folder: string,
  name: string,
  choose: (path: Buffer, size: number) => Promise<readonly MboxPiece[]>,
): Promise<void> {
  const at = (file: Uint8Array) => Buffer.concat([Buffer.from(`${folder}/`), file]);
  const [path, beside, lock] = [
    at(nameBytes(name)),
    at(besideOf(name)),
    at(Buffer.concat([nameBytes(name), Buffer.from('.lock')])),
  ];
  await takeLock(lock);
  try {
    const old = await open(path, constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK);
    try {
      const before = await old.stat();
      if (!before.isFile() || before.nlink > 1)
        throw new ItemError('its mailbox is no plain file, or has other names (hard links)');
      const pieces = await choose(path, before.size);
      const made = await open(
        beside,
        // Behind whatever others add to it once it has the name.
        constants.O_RDWR | constants.O_CREAT | constants.O_TRUNC | constants.O_APPEND | constants.O_NOFOLLOW,
        0o600,
      );
      try {
        for (const piece of pieces) {
          if ('from' in piece) await copyRange(old, made, piece.from, piece.to);
          else await made.write(piece);
        }
        let copied = before.size;
        const takeOver = async () => {
          const { size } = await old.stat();
          if (size < copied) throw new ItemError('its mailbox was changed by another program meanwhile');
          await copyRange(old, made, copied, size);
          copied = size;
        };
        await takeOver();
        await copyAttributes(path, beside);
        await made.sync();
        if (lstatSync(path).ino !== before.ino)
          throw new ItemError('its mailbox was changed by another program meanwhile');
        await takeOver();
        await rename(beside, path);
        // Who had it open may add to the old one for a moment.
        await wait(SETTLE_MS);
        await takeOver();
        await made.sync();
      } catch (error) {
        await rm(beside, { force: true });
        throw error;
      } finally {
        await made.close();
      }
      await syncFolder(folder);
    } finally {
      await old.close();
    }
  } finally {
    await rm(lock, { force: true });
  }
}

async function takeLock(lock: Buffer): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      const handle = await open(lock, 'wx', 0o600);
      await handle.writeFile(`${OURS}${process.pid} ${hostname()}\n`);
      await handle.close();
      return;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      if (await isLeft(lock)) await rm(lock, { force: true });
      else if (tries >= LOCK_TRIES) throw new ItemError('another program has locked its mailbox');
      else await wait(LOCK_WAIT_MS);
    }
  }
}

/** Whether a lock is one of ours, whose process died. */
async function isLeft(lock: Buffer): Promise<boolean> {
  const is = lstatSync(lock, { throwIfNoEntry: false });
  const text = await readFile(lock, 'utf8').catch(() => '');
  if (!is || !text.startsWith(OURS)) return false;
  const [pid = '', host = ''] = text.slice(OURS.length).trim().split(' ');
  if (host === hostname() && Number(pid) !== process.pid) {
    try {
      process.kill(Number(pid), 0);
    } catch (error) {
      return (error as NodeJS.ErrnoException).code === 'ESRCH';
    }
  }
  return Date.now() - is.mtimeMs > LOCK_OLD_MS;
}

/** To the end of the new file. */
async function copyRange(old: FileHandle, made: FileHandle, from: number, to: number): Promise<void> {
  const buffer = Buffer.alloc(Math.min(COPIED, Math.max(1, to - from)));
  for (let at = from; at < to;) {
    const { bytesRead } = await old.read(buffer, 0, Math.min(buffer.length, to - at), at);
    if (bytesRead === 0) throw new ItemError('its mailbox was changed by another program meanwhile');
    await made.write(buffer.subarray(0, bytesRead));
    at += bytesRead;
  }
}

const asctime = (at: Date) => {
  const [day = '', date = '', month = '', year = '', time = ''] = at
    .toUTCString()
    .replace(',', '')
    .split(' ');
  return `${day} ${month} ${String(Number(date)).padStart(2)} ${time} ${year}`;
};

/** A message as it stands in an mbox file (RFC 4155), lines quoted that begin like a separator. */
export function mboxMessage(bytes: Uint8Array, changed: string | null): Buffer {
  const text = Buffer.from(bytes)
    .toString('latin1')
    .replace(/^(>*From )/gm, '>$1');
  const blank = text.endsWith('\n\n') || text.endsWith('\n\r\n') ? '' : text.endsWith('\n') ? '\n' : '\n\n';
  const at = asctime(changed === null ? new Date() : new Date(changed));
  return Buffer.from(`From yare-warden ${at}\n${text}${blank}`, 'latin1');
}
