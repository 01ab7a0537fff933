import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Context } from '../context.ts';
import { log } from '../log.ts';
import { missingMigrations, readMigrations } from '../store/migrations.ts';

/** The project's folder: the nearest above this file that holds the migrations. */
export function projectFolder(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'migrations'))) {
    const up = dirname(folder);
    if (up === folder) throw new Error('The migrations folder is missing from this copy.');
    folder = up;
  }
  return folder;
}

export function migrationsFolder(): string {
  return join(projectFolder(), 'migrations');
}

/** A process does not start on a database that lacks a migration. */
export async function requireMigrated(ctx: Context): Promise<void> {
  const missing = await missingMigrations(ctx.store, await readMigrations(migrationsFolder()));
  if (missing.length) throw new Error(`The database lacks ${missing.join(', ')}. Run ./yare migrate first.`);
}

/** Listens, or throws an Error that names the setting of a busy port. */
export function serve(server: Server, port: number, host: string, setting: string): Promise<void> {
  return new Promise((ready, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      failed(
        error.code === 'EADDRINUSE'
          ? new Error(`Port ${port} is taken. Set ${setting} to a free one.`)
          : error,
      ),
    );
    server.listen(port, host, () => {
      log.info({ port }, 'ready');
      ready();
    });
  });
}

/** Runs `end` once on SIGINT, SIGTERM or when the launcher is gone, then leaves; a second signal, or ten seconds, leaves at once. */
export function endOnSignal(end: () => Promise<void>): void {
  let ending = false;
  const leave = () => {
    if (ending) process.exit(1);
    ending = true;
    setTimeout(() => process.exit(1), 10_000).unref();
    end().then(
      () => process.exit(0),
      (error: Error) => {
        log.error({ err: error.message }, 'did not end cleanly');
        process.exit(1);
      },
    );
  };
  const parent = Number(process.env['YARE_PARENT']);
  if (parent) setInterval(() => isAlive(parent) || leave(), PARENT_EVERY_MS).unref();
  process.on('SIGINT', leave);
  process.on('SIGTERM', leave);
}

const PARENT_EVERY_MS = 1000;

/** A launcher that was killed cannot tell its processes to end; they look. */
function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** The first thing every built process does with its `main`. */
export function run(name: string, main: () => Promise<void>): void {
  main().catch((error: Error) => {
    process.stderr.write(`${name} did not start: ${error.message}\n`);
    process.exit(1);
  });
}
