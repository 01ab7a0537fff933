import { afterAll, describe, expect, it } from 'vitest';
import { dirname } from 'node:path';
import { z } from 'zod';
import { ownDatabase } from '../../own-database.ts';
import { prepareDatabase } from '../../../launcher/database-command.ts';
import { migrate, missingMigrations, type Migration } from '../../../src/server/store/migrations.ts';
import { decodeCursor, toPage } from '../../../src/server/store/page.ts';
import { ensureMonths } from '../../../src/server/store/partitions.ts';
import { openStore } from '../../../src/server/store/pool.ts';
import { Count } from '../../../src/server/store/columns.ts';

const store = openStore(ownDatabase(), 6);
afterAll(() => store.close());
const N = z.object({ n: Count });
const migration = (number: number, statements: string[]): Migration => ({
  number,
  name: `${number}-t.sql`,
  statements,
  checksum: 'c'.repeat(64),
});

describe('the database that the launcher starts', () => {
  it('keeps temporary tables beside its data, where no other server deletes them', async () => {
    const { folders } = (await store.one(
      z.object({ folders: z.string() }),
      "SELECT CONCAT(@@tmpdir, ' ', TRIM(TRAILING '/' FROM @@datadir)) AS folders",
    ))!;
    const [temporary, data] = folders.split(' ').map((f) => dirname(f));
    expect(temporary).toBe(data);
  });
});

describe('a transaction', () => {
  it('is run again whole when it loses a deadlock', async () => {
    await store.run('CREATE TABLE IF NOT EXISTS t_deadlock (id INT PRIMARY KEY, v INT NOT NULL)');
    await store.run('REPLACE INTO t_deadlock VALUES (1, 0), (2, 0)');
    let runs = 0;
    const cross = (first: number, second: number) =>
      store.transaction(async (tx) => {
        runs++;
        await tx.run('UPDATE t_deadlock SET v = v + 1 WHERE id = ?', [first]);
        await new Promise((done) => setTimeout(done, 80));
        await tx.run('UPDATE t_deadlock SET v = v + 1 WHERE id = ?', [second]);
      });
    await Promise.all([cross(1, 2), cross(2, 1)]);
    expect(runs).toBeGreaterThan(2);
    expect((await store.one(N, 'SELECT SUM(v) AS n FROM t_deadlock'))?.n).toBe(4);
  });

  it('leaves nothing when its work throws', async () => {
    await store.run('CREATE TABLE IF NOT EXISTS t_undone (id INT PRIMARY KEY)');
    await expect(
      store.transaction(async (tx) => {
        await tx.run('INSERT INTO t_undone VALUES (1)');
        throw new Error('no');
      }),
    ).rejects.toThrow('no');
    expect((await store.one(N, 'SELECT COUNT(*) AS n FROM t_undone'))?.n).toBe(0);
  });

  it('refuses rows of another shape', async () => {
    await expect(store.all(z.object({ n: z.string() }), 'SELECT 1 AS n')).rejects.toThrow();
  });
});

describe('a statement by itself', () => {
  it('is run again when it loses a deadlock', async () => {
    await store.run('CREATE TABLE IF NOT EXISTS t_single (id INT PRIMARY KEY, v INT NOT NULL)');
    await store.run('REPLACE INTO t_single VALUES ?', [Array.from({ length: 200 }, (_, i) => [i + 1, 0])]);
    let single: Promise<unknown> | undefined;
    await store.transaction(async (tx) => {
      // What changed more is let live.
      await tx.run('UPDATE t_single SET v = v + 1 WHERE id = 1 OR id > 2');
      single ??= store.run('UPDATE t_single SET v = v + 10 WHERE id IN (1, 2) ORDER BY id DESC');
      await new Promise((done) => setTimeout(done, 150));
      await tx.run('UPDATE t_single SET v = v + 1 WHERE id = 2');
    });
    await single;
    expect((await store.one(N, 'SELECT SUM(v) AS n FROM t_single'))?.n).toBe(220);
  });
});

describe('migrations', () => {
  it('are all applied, once', async () => {
    const { store: again, applied } = await prepareDatabase(ownDatabase());
    await again.close();
    expect(applied).toEqual([]);
  });

  it('go on at the statement that failed, and never run one twice', async () => {
    const broken = [
      migration(9001, ['CREATE TABLE t_step (id INT PRIMARY KEY)', 'INSERT INTO t_nowhere VALUES (1)']),
    ];
    await expect(migrate(store, broken)).rejects.toThrow(/statement 2 of 2/);
    expect(await missingMigrations(store, broken)).toEqual(['9001-t.sql']);
    const mended = [
      migration(9001, ['CREATE TABLE t_step (id INT PRIMARY KEY)', 'INSERT INTO t_step VALUES (1)']),
    ];
    expect(await migrate(store, mended)).toEqual(['9001-t.sql']);
    expect(await missingMigrations(store, mended)).toEqual([]);
    await expect(migrate(store, [{ ...mended[0]!, checksum: 'd'.repeat(64) }])).rejects.toThrow(
      /edited after/,
    );
    await expect(migrate(store, [])).rejects.toThrow(/newer copy/);
    await store.run('DELETE FROM migration WHERE number = 9001');
  });
});

it('says plainly when the password is wrong or nothing answers', async () => {
  const url = new URL(ownDatabase());
  url.password = 'wrong';
  await expect(prepareDatabase(url.href)).rejects.toThrow(/refused the user “yare” or its password/);
  url.port = '1';
  await expect(prepareDatabase(url.href)).rejects.toThrow(/No database answers/);
});

it('gives every month a partition and keeps what is in them', async () => {
  const now = new Date();
  await ensureMonths(store, now, now, 5);
  await ensureMonths(store, now, now, 5);
  const parts = await store.all(
    z.object({ name: z.string() }),
    "SELECT partition_name AS name FROM information_schema.partitions WHERE table_schema = DATABASE() AND table_name = 'consent_record'",
  );
  const names = parts.map((p) => p.name);
  expect(new Set(names).size).toBe(names.length);
  expect(names).toContain('later');
  expect(names).toContain(`m${now.toISOString().slice(0, 7).replace('-', '')}`);
});

it('pages by the key of the last row', () => {
  const page = toPage([1, 2, 3], 2, (n) => [n]);
  expect(page.rows).toEqual([1, 2]);
  expect(decodeCursor(page.next!, z.tuple([z.int()]))).toEqual([2]);
  expect(toPage([1, 2], 2, (n) => [n]).next).toBeNull();
  for (const forged of ['not a cursor', '', btoa('[]'), btoa('["x"]'), btoa('{"0":2}'), btoa('[2,3]')])
    expect(() => decodeCursor(forged, z.tuple([z.int()])), forged).toThrow(/page marker/);
});
