import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { findProgram } from './prerequisites.ts';
import { LauncherError } from './launcher-error.ts';

/** What is of no use elsewhere: whoever was signed in signs in again. */
const WITHOUT_ROWS = ['session'];

function connection(url: string): { args: readonly string[]; env: NodeJS.ProcessEnv; name: string } {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    name: decodeURIComponent(pathname.slice(1)),
    args: [
      ...['--no-defaults', '--protocol=tcp', `--host=${hostname}`, `--port=${port || '3306'}`],
      ...[`--user=${decodeURIComponent(username)}`, '--default-character-set=utf8mb4'],
    ],
    // Never among the arguments, which others on the machine can read.
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(password) },
  };
}

function program(name: string): string {
  const found = findProgram(name);
  if (!found)
    throw new LauncherError(
      `${name} is missing on this machine. Run this first:\n\n  sudo apt-get install -y mariadb-client`,
    );
  return found;
}

/** A database as SQL, as it stood at one moment, while it is used. Throws a LauncherError where it breaks off. */
export async function* dump(url: string): AsyncGenerator<Buffer> {
  const { args, env, name } = connection(url);
  const child = spawn(
    program('mariadb-dump'),
    [
      ...args,
      ...[
        '--single-transaction',
        '--quick',
        '--skip-lock-tables',
        '--skip-add-locks',
        '--hex-blob',
        '--no-tablespaces',
      ],
      ...['--skip-comments', '--max-allowed-packet=64M', '--net-buffer-length=1M'],
      ...WITHOUT_ROWS.map((t) => `--ignore-table-data=${name}.${t}`),
      name,
    ],
    { env, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  let said = '';
  child.stderr.on('data', (c: Buffer) => (said = (said + c.toString()).slice(-4000)));
  const ended = once(child, 'close') as Promise<[number | null]>;
  ended.catch(() => {});
  try {
    for await (const chunk of child.stdout) yield chunk as Buffer;
    const [code] = await ended;
    if (code !== 0) throw new LauncherError(`The database could not be read whole:\n${said.trim()}`);
  } finally {
    child.kill();
  }
}

/** Writes SQL into a database. Throws a LauncherError for what it refuses. */
export async function load(url: string, sql: AsyncIterable<Uint8Array>): Promise<void> {
  const { args, env, name } = connection(url);
  const child = spawn(program('mariadb'), [...args, '--max-allowed-packet=64M', '--binary-mode', name], {
    env,
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (c: Buffer) => (said = (said + c.toString()).slice(-4000)));
  const ended = once(child, 'close') as Promise<[number | null]>;
  let isOver = false;
  const over = ended.then(() => {
    isOver = true;
  });
  child.stdin.on('error', () => {});
  try {
    for await (const chunk of sql) {
      if (isOver) break;
      if (!child.stdin.write(chunk)) await Promise.race([once(child.stdin, 'drain'), over]).catch(() => {});
    }
    child.stdin.end();
    const [code] = await ended;
    if (code !== 0) throw new LauncherError(`The database refused what was restored:\n${said.trim()}`);
  } finally {
    child.kill();
  }
}
