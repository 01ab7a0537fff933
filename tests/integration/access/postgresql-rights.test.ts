import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../../launcher/free-port.ts';
import { EstateReader } from '../../../src/core/access/estate/estate.ts';
import type { Strength } from '../../../src/core/access/reach/strength.ts';
import { Reach } from '../../../src/core/access/reach/reach.ts';
import { postgresqlRights } from '../../../src/server/access/databases/postgresql-rights.ts';
import { databaseReader } from '../../../src/server/access/readers/database.ts';
import { writePostgresqlGrant } from '../../../src/server/access/databases/write-postgresql-grant.ts';
import { startPostgresql } from '../../servers/postgresql.ts';
import type { ServerProcess } from '../../servers/server-process.ts';

const folder = mkdtempSync(join(tmpdir(), 'yare-pg-rights-'));
const USERS = Array.from({ length: 7 }, (_, i) => `u${i}`);
const ROLES = Array.from({ length: 4 }, (_, i) => `r${i}`);
const SCHEMAS = ['public', 'shop', 'vault'];
const TABLES = SCHEMAS.flatMap((s) => ['t1', 't2'].map((t) => `${s}.${t}`));

let seed = 11;
const random = (n: number) => {
  seed = (seed * 48_271) % 2_147_483_647;
  return seed % n;
};
const pick = <T>(of: readonly T[]): T => of[random(of.length)] as T;

let server: ServerProcess;
let root: pg.Client;
let address: { host: string; port: number; user: string; password: string; database: string };
beforeAll(async () => {
  const [port = 0] = await freePorts(1);
  server = await startPostgresql(folder, port, 'kept-from-sight');
  address = {
    host: '127.0.0.1',
    port: server.port,
    user: 'reader',
    password: 'kept-from-sight',
    database: 'postgres',
  };
  root = new pg.Client(address);
  await root.connect();
  for (const role of ROLES) await root.query(`CREATE ROLE ${role}`);
  for (const user of USERS)
    await root.query(`CREATE ROLE ${user} LOGIN ${random(3) === 0 ? 'NOINHERIT' : ''}`);
  await root.query('ALTER ROLE u6 SUPERUSER');
  await root.query('GRANT r0 TO r1; GRANT r1 TO r2');
  for (const user of USERS.slice(0, 5)) await root.query(`GRANT ${pick(ROLES)} TO ${user}`);
  // A role that may sign in can have members, too.
  await root.query('GRANT u0 TO u3');
  await root.query('CREATE SCHEMA shop; CREATE SCHEMA vault AUTHORIZATION r2');
  for (const table of TABLES) await root.query(`CREATE TABLE ${table} (a INT, b INT)`);
  await root.query('ALTER TABLE shop.t2 OWNER TO u1; ALTER TABLE vault.t1 OWNER TO u2');
  await root.query('GRANT USAGE ON SCHEMA shop TO PUBLIC; GRANT USAGE ON SCHEMA vault TO r0');
  for (let i = 0; i < 22; i++) {
    const to = pick([...ROLES, ...USERS, 'PUBLIC']);
    const what = pick([
      'SELECT',
      'INSERT',
      'UPDATE',
      'DELETE',
      'TRUNCATE',
      'REFERENCES',
      'SELECT (b)',
      'UPDATE (a)',
    ]);
    const grant = to !== 'PUBLIC' && random(4) === 0 ? ' WITH GRANT OPTION' : '';
    await root.query(`GRANT ${what} ON ${pick(TABLES)} TO ${to}${grant}`);
  }
  await root.query(
    'REVOKE CONNECT ON DATABASE postgres FROM PUBLIC; GRANT CONNECT ON DATABASE postgres TO r0, u4, u5',
  );
}, 60_000);
afterAll(async () => {
  await root.end();
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

describe('reach in a database of PostgreSQL', () => {
  it('is the server’s own answer for every role and table', async () => {
    const reader = new EstateReader();
    for (const line of await postgresqlRights(address, 'db')) reader.take(line);
    const estate = reader.done();
    expect(estate.faults).toEqual([]);
    const reach = new Reach(estate, '2026-11-30');
    // What somebody can do with a role that they are in, inherited or taken.
    const may = async (user: string, table: string, privileges: readonly string[], column: boolean) => {
      const [schema = ''] = table.split('.');
      const any = privileges
        .map(
          (p) =>
            `has_table_privilege(r.oid, '${table}', '${p}')${column ? ` OR has_any_column_privilege(r.oid, '${table}', '${p}')` : ''}`,
        )
        .join(' OR ');
      const as = `SELECT 1 FROM pg_roles r WHERE pg_has_role('${user}', r.oid, 'MEMBER')`;
      const { rows } = await root.query<{ may: boolean }>(
        `SELECT EXISTS (${as} AND has_database_privilege(r.oid, 'postgres', 'CONNECT')) AND EXISTS (${as} AND has_schema_privilege(r.oid, '${schema}', 'USAGE')) AND EXISTS (${as} AND (${any})) AS may`,
      );
      return rows[0]?.may ?? false;
    };
    let some = 0;
    for (const user of USERS)
      for (const table of TABLES) {
        const person = estate.people.persons[estate.people.number(`'${user}'`) ?? -1];
        if (!person) throw new Error(user);
        const { steps } = reach.pair(person, estate.tree.number(`db:${table}`) ?? -1);
        const told = {
          read: (steps & 2) !== 0,
          change: (steps & 4) !== 0,
        };
        expect(told, `${user} ${table}`).toEqual({
          read: await may(user, table, ['SELECT'], true),
          change:
            (await may(user, table, ['INSERT', 'UPDATE'], true)) ||
            (await may(user, table, ['DELETE', 'TRUNCATE'], false)),
        });
        if (told.read) some++;
      }
    // Some may, and some may not: else nothing was compared.
    expect(some).toBeGreaterThan(4);
    expect(some).toBeLessThan(USERS.length * TABLES.length - 4);
  });

  it('tells where the rows of a table lie', async () => {
    const reader = databaseReader({ kind: 'postgresql', ...address }, { id: 9, name: 'db' });
    const holds = new Map<string, string | null | undefined>();
    for await (const one of reader.lines(new AbortController().signal))
      if ('line' in one && one.line.type === 'place') holds.set(one.line.id, one.holds);
    expect(holds.get('db:')).toBe('9');
    expect(holds.get('db:shop.t1')).toBe('9/shop/t1');
  });
});

describe('a grant in a database of PostgreSQL', () => {
  const grant = (place: string, to: string, strength: Strength) => ({
    ...{
      type: 'grant' as const,
      place,
      to,
      strength,
      deny: false,
      only: true,
      until: null,
      by: null,
      at: null,
    },
  });
  const step = (act: 'add' | 'take', place: string, to: string, strength: Strength) =>
    writePostgresqlGrant(address, 'db', { is: 'grant', act, grant: grant(place, to, strength) });
  const has = async (place: string, to: string, strength: Strength) =>
    (await postgresqlRights(address, 'db')).some(
      (l) => l.type === 'grant' && l.place === place && l.to === to && l.strength === strength,
    );

  beforeAll(async () => {
    await root.query('CREATE ROLE "odd ""one" LOGIN; CREATE ROLE w1 LOGIN; CREATE ROLE w2 LOGIN');
    await root.query('CREATE TABLE shop."t ""3" (a INT, b INT); GRANT INSERT ON shop."t ""3" TO w1');
  });

  it.each([
    ['db:', 'role w1', 'see'],
    ['db:vault', 'role w1', 'see'],
    ['db:shop.t1', 'role w1', 'read'],
    ['db:shop.t1', 'role w1', 'change'],
    ['db:shop.t1', 'role w1', 'see'],
    ['db:shop.t "3', 'role odd "one', 'read'],
    ['db:shop.t "3', 'role w1', 'give'],
    ['db:shop.t2', 'everyone', 'change'],
  ] as const)('at %s to %s, to %s, is there, once, and gone again', async (place, to, strength) => {
    if (await has(place, to, strength)) await step('take', place, to, strength);
    expect(await step('take', place, to, strength)).toBe('already');
    expect(await step('add', place, to, strength)).toBe('done');
    expect(await step('add', place, to, strength)).toBe('already');
    expect(await has(place, to, strength)).toBe(true);
    expect(await step('take', place, to, strength)).toBe('done');
    expect(await has(place, to, strength)).toBe(false);
  });

  it('to somebody is one to the role that they sign in as', async () => {
    expect(await step('add', 'db:shop.t1', "'w2'", 'read')).toBe('done');
    expect(await has('db:shop.t1', 'role w2', 'read')).toBe(true);
    const { rows } = await root.query<{ may: boolean }>(
      "SELECT has_table_privilege('w2', 'shop.t1', 'SELECT') AS may",
    );
    expect(rows[0]?.may).toBe(true);
  });

  it('takes away all that comes to it, of what the role itself has', async () => {
    await root.query('GRANT INSERT, TRUNCATE, SELECT ON shop.t1 TO w2');
    expect(await step('take', 'db:shop.t1', 'role w2', 'change')).toBe('done');
    const { rows } = await root.query<Record<string, boolean>>(
      "SELECT has_table_privilege('w2', 'shop.t1', 'TRUNCATE') AS truncate, has_table_privilege('w2', 'shop.t1', 'SELECT') AS read",
    );
    expect(rows[0]).toEqual({ truncate: false, read: true });
  });

  it('is refused where taking it would take more, or not all, and nothing is changed', async () => {
    await root.query('GRANT SELECT (b) ON shop.t1 TO w1');
    await expect(step('take', 'db:shop.t1', 'role w1', 'read')).rejects.toThrow('on columns');
    await root.query('REVOKE SELECT (b) ON shop.t1 FROM w1');
    // One of two who gave it.
    await root.query('GRANT SELECT ON shop.t1 TO w2 WITH GRANT OPTION; GRANT SELECT ON shop.t1 TO w1');
    await root.query('SET ROLE w2; GRANT USAGE ON SCHEMA shop TO w2').catch(() => {});
    await root.query('RESET ROLE; GRANT USAGE ON SCHEMA shop TO w2');
    await root.query('SET ROLE w2; GRANT SELECT ON shop.t1 TO w1; RESET ROLE');
    await expect(step('take', 'db:shop.t1', 'role w1', 'read')).rejects.toThrow('somebody else gave it');
    const { rows } = await root.query<{ n: number }>(
      "SELECT COUNT(*)::int AS n FROM pg_class c CROSS JOIN LATERAL aclexplode(c.relacl) a WHERE c.oid = 'shop.t1'::regclass AND a.grantee = 'w1'::regrole AND a.privilege_type = 'SELECT'",
    );
    expect(rows[0]?.n).toBe(2);
    await expect(step('take', 'db:shop.t1', 'role u6', 'read')).rejects.toThrow('comes with what they own');
  });

  it('is refused to nobody, at what is gone, with an end, and for what a schema does not know', async () => {
    await expect(step('add', 'db:shop.t1', 'role no"; DROP TABLE x', 'read')).rejects.toThrow(
      'no role of that name',
    );
    await expect(step('add', 'db:shop.t9', 'role w1', 'read')).rejects.toThrow('not there any more');
    await expect(step('add', 'db:shop', 'role w1', 'read')).rejects.toThrow('choose a table');
    await expect(step('add', 'db:vault.t2', 'role w1', 'give')).rejects.toThrow(
      'nothing there that they could give',
    );
    await expect(
      writePostgresqlGrant(address, 'db', {
        ...{ is: 'grant', act: 'add' },
        grant: { ...grant('db:shop.t1', 'role w1', 'read'), until: '2027-01-01' },
      }),
    ).rejects.toThrow('no grants that end');
  });
});
