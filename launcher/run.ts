import { spawn, type SpawnOptions } from 'node:child_process';
import { PROJECT } from './project.ts';

export interface Ran {
  readonly code: number;
  readonly output: string;
}

/** Runs a program to its end. `echo` shows what it prints while it runs. */
export function run(
  program: string,
  args: readonly string[],
  options: SpawnOptions & { echo?: boolean } = {},
): Promise<Ran> {
  const { echo = false, ...spawnOptions } = options;
  return new Promise((resolve) => {
    const child = spawn(program, args, { cwd: PROJECT, ...spawnOptions, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    const take = (chunk: Buffer) => {
      output = (output + chunk.toString()).slice(-400_000);
      if (echo) process.stdout.write(chunk);
    };
    child.stdout?.on('data', take);
    child.stderr?.on('data', take);
    child.on('error', (error) => resolve({ code: 127, output: `${output}${error.message}` }));
    child.on('close', (code) => resolve({ code: code ?? 1, output }));
  });
}
