import { createHash } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { Count } from './columns.ts';
import type { Queries, Store } from './pool.ts';

export interface Migration {
  readonly number: number;
  readonly name: string;
  readonly statements: readonly string[];
  readonly checksum: string;
}

/** Plain SQL files named `0001-what.sql`, their statements ended by a semicolon at a line's end. */
export async function readMigrations(folder: string): Promise<readonly Migration[]> {
  const names = (await readdir(folder)).filter((n) => /^\d{4}-[a-z0-9-]+\.sql$/.test(n)).sort();
  return Promise.all(
    names.map(async (name) => {
      const text = await readFile(join(folder, name), 'utf8');
      const statements = text
        .split(/;[ \t]*(?:\r?\n|$)/)
        .map((s) => s.trim())
        .filter((s) => s.replace(/^--.*$/gm, '').trim() !== '');
      const checksum = createHash('sha256').update(text).digest('hex');
      return { number: Number(name.slice(0, 4)), name, statements, checksum };
    }),
  );
}

const Applied = z.object({ number: z.number(), name: z.string(), checksum: z.string(), done: z.number() });

/**
 * Brings the database up to date. MariaDB commits each change of a table at once, so progress is kept by statement: a
 * migration that failed goes on, after the cause is mended, at the statement it failed at. Two at once wait for each
 * other. Returns the names applied.
 */
export async function migrate(store: Store, migrations: readonly Migration[]): Promise<readonly string[]> {
  await store.run(
    'CREATE TABLE IF NOT EXISTS migration (number INT NOT NULL PRIMARY KEY, name VARCHAR(120) NOT NULL, checksum CHAR(64) NOT NULL, done INT NOT NULL, applied_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3))',
  );
  await store.run('CREATE TABLE IF NOT EXISTS migration_turn (id INT NOT NULL PRIMARY KEY)');
  await store.run('INSERT IGNORE INTO migration_turn (id) VALUES (1)');
  return store.transaction(async (turn) => {
    await turn.all(z.object({ id: z.number() }), 'SELECT id FROM migration_turn WHERE id = 1 FOR UPDATE');
    return store.connection((connection) => applyAll(connection, migrations));
  });
}

async function applyAll(connection: Queries, migrations: readonly Migration[]): Promise<readonly string[]> {
  const applied = await connection.all(
    Applied,
    'SELECT number, name, checksum, done FROM migration ORDER BY number',
  );
  const newest = migrations.at(-1)?.number ?? 0;
  const unknown = applied.find((a) => a.number > newest);
  if (unknown)
    throw new Error(
      `The database has migration ${unknown.name}, which this copy does not know. Start a newer copy of Yare Warden.`,
    );
  const names: string[] = [];
  for (const migration of migrations) {
    const row = applied.find((a) => a.number === migration.number);
    if (row && row.done === migration.statements.length) {
      if (row.checksum !== migration.checksum)
        throw new Error(
          `${migration.name} was edited after it was applied. Migrations only go forward: add a new one.`,
        );
      continue;
    }
    await applyOne(connection, migration, row?.done ?? 0);
    names.push(migration.name);
  }
  return names;
}

async function applyOne(connection: Queries, migration: Migration, done: number): Promise<void> {
  for (const [i, statement] of migration.statements.entries()) {
    if (i < done) continue;
    try {
      await connection.run(statement);
    } catch (error) {
      throw new Error(
        `Migration ${migration.name} stopped at statement ${i + 1} of ${migration.statements.length}: ${(error as Error).message}\n` +
          'The statements before it are kept and will not run again. Mend the cause and start again.',
        { cause: error },
      );
    }
    await connection.run(
      'INSERT INTO migration (number, name, checksum, done) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE done = VALUES(done), checksum = VALUES(checksum)',
      [migration.number, migration.name, migration.checksum, i + 1],
    );
  }
}

/** Names of the migrations still missing; a process that finds any does not start. */
export async function missingMigrations(
  store: Store,
  migrations: readonly Migration[],
): Promise<readonly string[]> {
  const exists = await store.one(
    z.object({ n: Count }),
    "SELECT COUNT(*) AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'migration'",
  );
  if (!exists?.n) return migrations.map((m) => m.name);
  const applied = await store.all(Applied, 'SELECT number, name, checksum, done FROM migration');
  return migrations
    .filter((m) => applied.find((a) => a.number === m.number)?.done !== m.statements.length)
    .map((m) => m.name);
}
