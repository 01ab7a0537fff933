import { execFile, spawn } from 'node:child_process';
import { lstatSync } from 'node:fs';
import { realpath } from 'node:fs/promises';
import { promisify } from 'node:util';
import type { EstateLine, PlaceLine } from '../../../core/access/estate/estate-line.ts';
import { nameText } from '../../../core/text/name-text.ts';
import { accountLines } from './read-accounts.ts';
import { AclText, type ListedAcl } from './acl-text.ts';

const run = promisify(execFile);

/** The folder itself cannot be read. */
export class FolderError extends Error {}

const LISTED = ['--numeric', '--absolute-names', '--physical'];

/**
 * Who may do what in a folder and all below it, as `getfacl` reads it, with every folder above, through which one has to pass.
 * Links are not followed. What cannot be read is told as unknown.
 */
export async function* folderLines(folder: string, source: string): AsyncGenerator<EstateLine> {
  const root = await realpath(folder).catch((error: unknown) => {
    throw new FolderError(`“${folder}” cannot be read: ${(error as Error).message}.`);
  });
  if (!lstatSync(root).isDirectory()) throw new FolderError(`“${folder}” is no folder.`);
  const steps = root.split('/').filter(Boolean);
  const above = ['/', ...steps.slice(0, -1).map((_, i) => `/${steps.slice(0, i + 1).join('/')}`)];
  if (root !== '/') {
    const { stdout } = await run('getfacl', [...LISTED, '--', ...above], { encoding: 'latin1' }).catch(
      (error: unknown) => {
        throw new FolderError(withoutProgram(error));
      },
    );
    for (const one of new AclText().next(stdout, true)) yield placeOf(one, source);
  }
  yield* belowLines(root, source);
}

async function* belowLines(root: string, source: string): AsyncGenerator<EstateLine> {
  const child = spawn('getfacl', [...LISTED, '--recursive', '--', root], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const failed = new Promise<Error | undefined>((done) => {
    child.once('error', done);
    child.once('close', () => done(undefined));
  });
  let complaints = '';
  child.stderr.setEncoding('latin1').on('data', (text: string) => (complaints += text));
  child.stdout.setEncoding('latin1');
  const text = new AclText();
  const told = new Set<string>();
  const lines = (some: readonly ListedAcl[]) =>
    some.flatMap((one): EstateLine[] => {
      const is = lstatSync(one.path, { throwIfNoEntry: false });
      if (!is?.isFile() && !is?.isDirectory()) return [];
      told.add(one.path.toString('latin1'));
      return [placeOf(one, source, is.isDirectory())];
    });
  for await (const piece of child.stdout as AsyncIterable<string>) yield* lines(text.next(piece, false));
  yield* lines(text.next('', true));
  const error = await failed;
  if (error) throw new FolderError(withoutProgram(error));
  for (const [, path = '', words = ''] of complaints.matchAll(/^getfacl: (\/.*): ([^:\n]+)$/gm)) {
    const bytes = Buffer.from(path, 'latin1');
    const folder = textOf(bytes);
    if (told.has(path)) yield unknownLine(bytes, source, words);
    else if (folder !== root) yield unknownLine(bytes, source, words);
    else throw new FolderError(`“${folder}” cannot be read: ${words}.`);
  }
}

function placeOf({ path, uid, gid, acl }: ListedAcl, source: string, isFolder = true): PlaceLine {
  return {
    ...placeAt(path, source),
    posix: { is: isFolder ? 'folder' : 'file', uid, gid, acl: [...acl] },
  };
}

function unknownLine(path: Buffer, source: string, words: string): PlaceLine {
  return { ...placeAt(path, source), unknown: words };
}

function placeAt(path: Buffer, source: string): PlaceLine {
  const text = textOf(path);
  const at = text.lastIndexOf('/');
  const parent = text === '/' ? null : text.slice(0, Math.max(1, at));
  return {
    ...{ type: 'place', id: `${source}:${text}`, source, name: text === '/' ? '/' : text.slice(at + 1) },
    parent: parent === null ? null : `${source}:${parent}`,
    ...{ inherits: true, gate: false, owner: null },
  };
}

/** A path as text, with what is no UTF-8 told by its bytes; steps stay steps. */
function textOf(path: Buffer): string {
  const steps: string[] = [];
  for (let from = 0; from <= path.length;) {
    const to = path.indexOf(47, from);
    steps.push(nameText(path.subarray(from, to < 0 ? path.length : to)));
    if (to < 0) break;
    from = to + 1;
  }
  return steps.join('/');
}

function withoutProgram(error: unknown): string {
  return (error as NodeJS.ErrnoException).code === 'ENOENT'
    ? 'getfacl is missing on this machine: install the package acl.'
    : `getfacl could not read it: ${(error as Error).message}.`;
}

/** Accounts and groups of this machine. */
export async function machineAccounts(): Promise<readonly EstateLine[]> {
  const [passwd, group] = await Promise.all(
    ['passwd', 'group'].map(async (what) => (await run('getent', [what], { maxBuffer: 256e6 })).stdout),
  );
  return accountLines(passwd ?? '', group ?? '');
}
