import { spawn } from 'node:child_process';
import { LauncherError } from './launcher-error.ts';

/**
 * Holds a file by a lock of the kernel (flock), which ends with this process however it ends. Returns what lets go of it;
 * `undefined` where another holds it.
 */
export async function holdFile(file: string): Promise<(() => Promise<void>) | undefined> {
  // The lock lives in a child that reads from us until there is nobody to read from.
  const child = spawn('flock', ['--nonblock', file, 'sh', '-c', 'echo held; cat >/dev/null'], {
    stdio: ['pipe', 'pipe', 'ignore'],
    // Ctrl-C is for us; the lock is kept until all has stopped.
    detached: true,
  });
  const held = await new Promise<boolean>((answer, fail) => {
    child.once('error', (error) =>
      fail(new LauncherError(`flock, of Debian's util-linux, is missing: ${error.message}`)),
    );
    child.stdout.once('data', () => answer(true));
    child.once('close', () => answer(false));
  });
  if (!held) return undefined;
  child.stdin.on('error', () => {});
  return () =>
    new Promise<void>((gone) => {
      child.once('close', () => gone());
      child.stdin.end();
    });
}
