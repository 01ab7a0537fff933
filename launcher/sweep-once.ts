import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildProgram } from './build.ts';
import { findProgram, installPrerequisites } from './prerequisites.ts';
import { PROJECT } from './project.ts';

/** A sweep from the command line, in a process of its own: only its report goes to standard output. */
export async function sweepOnce(args: readonly string[]): Promise<number> {
  await installPrerequisites({ mariadb: false, chromium: true });
  await buildProgram('sweep');
  const env = { ...process.env, CHROMIUM: process.env['CHROMIUM'] || findProgram('chromium') || '' };
  const child = spawn(process.execPath, ['--enable-source-maps', join(PROJECT, 'dist/sweep.mjs'), ...args], {
    stdio: 'inherit',
    env,
  });
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal));
  return new Promise((ended) => child.on('close', (code) => ended(code ?? 2)));
}
