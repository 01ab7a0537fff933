import { spawn } from 'node:child_process';
import { constants, open, readlink, realpath } from 'node:fs/promises';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { sameList } from '../../../core/access/change/access-change.ts';
import { nameBytes } from '../../../core/text/name-text.ts';
import { StepRefused } from '../readers/reader.ts';
import { AclText } from './acl-text.ts';

/** Opens what a name stands for, whatever it is, and reads nothing (Linux’s `O_PATH`); of a link, the link. */
const THE_THING = 0o10000000 | constants.O_NOFOLLOW;

/**
 * Sets all entries of one file or folder with `setfacl`, where they are still those that the step was made for; never outside
 * the root, never through a link. The thing itself is held open and handed on, so that nothing can take its place meanwhile,
 * and its name may be of any bytes.
 */
export async function writeList(
  root: string,
  path: string,
  step: Extract<AccessStep, { is: 'list' }>,
): Promise<'done' | 'already'> {
  const bytes = Buffer.from(
    path
      .split('/')
      .map((s) => Buffer.from(nameBytes(s)).toString('latin1'))
      .join('/'),
    'latin1',
  );
  const held = await open(bytes, THE_THING).catch(() => {
    throw new StepRefused('it is not there any more');
  });
  try {
    // Where it lies by now, with every link on the way resolved.
    const real = await readlink(`/proc/self/fd/${held.fd}`, { encoding: 'buffer' });
    const top = Buffer.from(await realpath(root));
    const below = real.subarray(0, top.length + 1).equals(Buffer.concat([top, Buffer.from('/')]));
    const isLink = (await held.stat()).isSymbolicLink();
    if (isLink || !real.equals(bytes) || !(below || real.equals(top)))
      throw new StepRefused('it lies outside its source, or behind a link');
    const listed = await run('getfacl', ['--numeric', '--absolute-names', '--', HANDED_ON], held.fd);
    const [now] = new AclText().next(listed, true);
    if (!now) throw new StepRefused('its list could not be read');
    if (sameList(now.acl, step.after)) return 'already';
    if (!sameList(now.acl, step.before)) throw new StepRefused('somebody changed its list meanwhile');
    await run('setfacl', ['--no-mask', '--set', step.after.join(','), '--', HANDED_ON], held.fd);
    return 'done';
  } finally {
    await held.close();
  }
}

const HANDED_ON = '/proc/self/fd/3';

/** What a program that has the thing as its fourth file says. Throws a StepRefused where it failed. */
async function run(program: string, words: readonly string[], fd: number): Promise<string> {
  const child = spawn(program, words, { stdio: ['ignore', 'pipe', 'pipe', fd] });
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on('error', reject).on('close', resolve);
  });
  const [said, wrong] = [latin1(child.stdout), latin1(child.stderr)];
  const code = await ended.catch(refusal);
  if (code !== 0) refusal({ stderr: await wrong, message: `${program} ended with ${code}` });
  return said;
}

async function latin1(stream: AsyncIterable<Uint8Array> | null): Promise<string> {
  const parts: Uint8Array[] = [];
  for await (const part of stream ?? []) parts.push(part);
  return Buffer.concat(parts).toString('latin1');
}

function refusal(error: unknown): never {
  const { code, stderr = '', message } = error as { code?: unknown; stderr?: string; message: string };
  throw new StepRefused(
    code === 'ENOENT'
      ? 'setfacl is missing on this machine: install the package acl'
      : `it could not be set: ${(stderr.trim().split('\n').at(-1) ?? '') || message}`,
  );
}
