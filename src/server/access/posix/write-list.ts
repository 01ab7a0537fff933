import { execFile } from 'node:child_process';
import { realpath } from 'node:fs/promises';
import { promisify } from 'node:util';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { sameList } from '../../../core/access/change/access-change.ts';
import { nameBytes } from '../../../core/text/name-text.ts';
import { StepRefused } from '../readers/reader.ts';
import { AclText } from './acl-text.ts';

const run = promisify(execFile);
const FLAGS = ['--numeric', '--absolute-names', '--physical'];

/**
 * Sets all entries of one file or folder with `setfacl`, where they are still those that the step was made for; never outside
 * the root, never through a link.
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
  const real = await realpath(bytes, { encoding: 'buffer' }).catch(() => {
    throw new StepRefused('it is not there any more');
  });
  const top = Buffer.from(await realpath(root));
  if (
    !real.equals(bytes) ||
    !(real.equals(top) || real.subarray(0, top.length + 1).equals(Buffer.concat([top, Buffer.from('/')])))
  )
    throw new StepRefused('it lies outside its source, or behind a link');
  const name = path.includes('\\x') ? undefined : path;
  if (name === undefined) throw new StepRefused('its name has signs that cannot be handed on');
  const { stdout } = await run('getfacl', [...FLAGS, '--', name], { encoding: 'latin1' }).catch(refusal);
  const [now] = new AclText().next(stdout, true);
  if (!now) throw new StepRefused('its list could not be read');
  if (sameList(now.acl, step.after)) return 'already';
  if (!sameList(now.acl, step.before)) throw new StepRefused('somebody changed its list meanwhile');
  await run('setfacl', ['--no-mask', '--set', step.after.join(','), '--', name]).catch(refusal);
  return 'done';
}

function refusal(error: unknown): never {
  const { code, stderr = '', message } = error as { code?: unknown; stderr?: string; message: string };
  throw new StepRefused(
    code === 'ENOENT'
      ? 'setfacl is missing on this machine: install the package acl'
      : `it could not be set: ${(stderr.trim().split('\n').at(-1) ?? '') || message}`,
  );
}
