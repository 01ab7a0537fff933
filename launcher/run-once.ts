import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildPrograms } from './build.ts';
import { findProgram, installPrerequisites } from './prerequisites.ts';
import { PROJECT } from './project.ts';

/** A command without the desk or a database, in a process of its own: only its report goes to standard output. */
export async function runOnce(name: 'sweep' | 'detect', args: readonly string[]): Promise<number> {
  await installPrerequisites({ mariadb: false, chromium: name === 'sweep' });
  await buildPrograms(name === 'sweep' ? ['sweep'] : ['detect', 'detect-thread']);
  const env = { ...process.env, CHROMIUM: process.env['CHROMIUM'] || findProgram('chromium') || '' };
  const child = spawn(
    process.execPath,
    ['--enable-source-maps', join(PROJECT, `dist/${name}.mjs`), ...args],
    {
      stdio: 'inherit',
      env,
    },
  );
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal));
  return new Promise((ended) => child.on('close', (code) => ended(code ?? 2)));
}
