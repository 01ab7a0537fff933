import { spawn } from 'node:child_process';
import { createConnection } from 'node:net';

/** A program that serves while tests run. */
export interface ServerProcess {
  readonly port: number;
  stop(): Promise<void>;
}

/** Starts it, and waits until it listens. */
export async function startServer(
  program: string,
  args: readonly string[],
  port: number,
  as?: { readonly uid: number; readonly gid: number },
): Promise<ServerProcess> {
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], ...as });
  let output = '';
  child.stdout.on('data', (d: Buffer) => (output += d.toString()));
  child.stderr.on('data', (d: Buffer) => (output += d.toString()));
  const ended = new Promise<void>((done) => child.once('close', () => done()));
  for (let tries = 0; !(await listens(port)); tries++) {
    if (child.exitCode !== null || tries > 300)
      throw new Error(`${program} did not start:\n${output.slice(-2000)}`);
    await new Promise((done) => setTimeout(done, 100));
  }
  return {
    port,
    async stop() {
      child.kill('SIGINT');
      const slow = setTimeout(() => child.kill('SIGKILL'), 10_000);
      await ended;
      clearTimeout(slow);
    },
  };
}

function listens(port: number): Promise<boolean> {
  return new Promise((answer) => {
    const socket = createConnection(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), answer(true)));
    socket.once('error', () => answer(false));
  });
}
