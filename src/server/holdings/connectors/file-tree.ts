import { constants, lstatSync, readFileSync, type Stats } from 'node:fs';
import { lstat, mkdir, open, readdir, readlink, realpath } from 'node:fs/promises';
import { nameBytes, nameText } from '../../../core/text/name-text.ts';
import { ItemError, SourceError } from './connector.ts';

const SLASH = Buffer.from('/');

/** A name in a folder, and what it is. */
export interface Entry {
  readonly name: string;
  readonly is: 'file' | 'folder' | 'link' | 'other';
}

/**
 * The folders below a root. Links are not followed, other file systems not entered, and a folder that somebody swapped
 * for a link while it was read is noticed.
 */
export class FileTree {
  readonly root: Buffer;
  #real: Buffer | undefined;
  #device: number | undefined;

  constructor(root: string) {
    this.root = Buffer.from(root.replace(/(.)\/+$/, '$1'));
  }

  /** Throws a SourceError where the root is no folder that can be read. */
  async check(): Promise<void> {
    try {
      const is = await lstat(this.root);
      if (is.isSymbolicLink())
        throw new SourceError('This is a link. Give the folder that it leads to.', 'root');
      if (!is.isDirectory()) throw new SourceError('This is a file, not a folder.', 'root');
      this.#device = is.dev;
      this.#real = await realpath(this.root, { encoding: 'buffer' });
      await readdir(this.root);
    } catch (error) {
      if (error instanceof SourceError) throw error;
      throw new SourceError(`The folder cannot be read: ${fileErrorWords(error)}.`, 'root');
    }
  }

  /** The bytes that a place, or a name in it, has on disk. */
  path(place: string, name?: string): Buffer {
    const steps = [...(place === '' ? [] : place.split('/')), ...(name === undefined ? [] : [name])];
    return Buffer.concat([this.root, ...steps.flatMap((s) => [SLASH, Buffer.from(nameBytes(s))])]);
  }

  /** Throws an Error of the file system, or a SourceError where the root itself is gone. */
  async entries(place: string): Promise<readonly Entry[]> {
    return this.inside(place, async (path) => {
      // Most names are UTF-8; only where one is not, they are read again as bytes.
      const quick = await readdir(path, { withFileTypes: true });
      const all = quick.some((e) => e.name.includes('\ufffd'))
        ? (await readdir(path, { withFileTypes: true, encoding: 'buffer' })).map((e) => ({
            e,
            name: nameText(e.name as unknown as Buffer),
          }))
        : quick.map((e) => ({ e, name: PLAIN.test(e.name) ? e.name : nameText(Buffer.from(e.name)) }));
      return all.map(({ e, name }) => ({
        name,
        is: e.isFile() ? 'file' : e.isDirectory() ? 'folder' : e.isSymbolicLink() ? 'link' : 'other',
      }));
    });
  }

  /** Throws an Error for a place that is not where its path says: a step of it is a link, or another file system. */
  async requireInside(place: string): Promise<void> {
    await this.inside(place, () => Promise.resolve());
  }

  /** The folder is held open meanwhile and asked where it is, so that nobody can swap it for another; `path` leads to it. */
  async inside<T>(place: string, work: (path: string) => Promise<T>): Promise<T> {
    if (this.#real === undefined) await this.check();
    const folder = await open(
      this.path(place),
      constants.O_RDONLY | constants.O_DIRECTORY | constants.O_NOFOLLOW | constants.O_NONBLOCK,
    );
    try {
      const held = `/proc/self/fd/${folder.fd}`;
      const real = await readlink(held, { encoding: 'buffer' });
      const expected =
        place === ''
          ? (this.#real ?? this.root)
          : Buffer.concat([this.#real ?? this.root, SLASH, Buffer.from(nameBytes(place))]);
      if (!expected.equals(real)) throw new Error('it is reached through a link');
      if ((await folder.stat()).dev !== this.#device) throw new Error('it is another file system');
      return await work(held);
    } finally {
      await folder.close();
    }
  }

  /** Makes a place, with those above it, where it is not there. */
  async make(place: string): Promise<void> {
    const steps = place === '' ? [] : place.split('/');
    for (const [i, step] of steps.entries())
      await this.inside(steps.slice(0, i).join('/'), (folder) =>
        mkdir(Buffer.concat([Buffer.from(folder), SLASH, Buffer.from(nameBytes(step))]), {
          mode: 0o750,
        }).catch((error: unknown) => {
          if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
        }),
      );
  }

  /** `undefined` for what is gone, or no plain file any more. */
  stat(place: string, name: string): Stats | undefined {
    return this.stats(place)(name);
  }

  /** The same, for many names of one place. */
  stats(place: string): (name: string) => Stats | undefined {
    const folder = this.path(place);
    const text = folder.toString();
    const isText = Buffer.from(text).equals(folder);
    return (name) => {
      try {
        const is = lstatSync(
          isText && !name.includes('\\') ? `${text}/${name}` : this.path(place, name),
          NO_THROW,
        );
        return is?.isFile() ? is : undefined;
      } catch {
        return undefined;
      }
    };
  }
}

const NO_THROW = { throwIfNoEntry: false } as const;

/** Of letters, digits and the signs of usual names, that need no other look. */
const PLAIN = /^[\p{L}\p{N} ._,;()[\]{}+=@#&%!'~^$-]+$/u;

/** Differs once the file was written, moved in or had its time set. */
export function versionOf(is: Stats): string {
  return `${is.size}.${is.mtimeMs}.${is.ctimeMs}`;
}

/** A moment of a file; `null` for one that no calendar has. */
export function instantOf(ms: number): string | null {
  return ms > 0 && ms < 253_402_300_800_000 ? new Date(ms).toISOString() : null;
}

let accounts: ReadonlyMap<number, string> | undefined;

/** Whose a file is, as this machine calls them. */
export function ownerOf({ uid }: Stats): string {
  accounts ??= new Map(
    passwd()
      .split('\n')
      // An empty line would be the name of number 0.
      .filter((line) => line !== '')
      .map((line) => line.split(':'))
      .map(([name = '', , id = '']) => [Number(id), name]),
  );
  return accounts.get(uid) ?? `user ${uid}`;
}

function passwd(): string {
  try {
    return readFileSync('/etc/passwd', 'utf8');
  } catch {
    return '';
  }
}

/** What the file system says of one item, as an ItemError. */
export async function asItemErrors<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof SourceError || error instanceof ItemError) throw error;
    throw new ItemError(fileErrorWords(error));
  }
}

export function fileErrorWords(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOENT':
      return 'it is not there';
    case 'EACCES':
    case 'EPERM':
      return 'this program may not read it';
    case 'ENOTDIR':
      return 'it is reached through a link, or is no folder any more';
    case 'EIO':
      return 'the disk reports an error';
    case 'EBUSY':
    case 'ETXTBSY':
    case 'EAGAIN':
      return 'another program has locked it';
    case 'ENAMETOOLONG':
      return 'its path is too long';
    case 'ELOOP':
      return 'it is reached through a link';
    case 'EMFILE':
    case 'ENFILE':
      return 'too many files are open';
    default:
      return message;
  }
}
