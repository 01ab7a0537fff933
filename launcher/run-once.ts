import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildPrograms } from './build.ts';
import { findProgram, installPrerequisites } from './prerequisites.ts';
import { PROJECT } from './project.ts';

/** Programs of each command. */
const NEEDED = {
  sweep: ['sweep'],
  detect: ['detect', 'detect-thread'],
  stamp: ['stamp'],
  retention: ['retention'],
  reach: ['reach'],
  estate: ['estate'],
  readiness: ['readiness'],
  framework: ['framework'],
};

/** A command without the desk or a database, in a process of its own: only its report goes to standard output. */
export async function runOnce(name: keyof typeof NEEDED, args: readonly string[]): Promise<number> {
  await installPrerequisites({ mariadb: false, chromium: name === 'sweep' });
  await buildPrograms(NEEDED[name]);
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
