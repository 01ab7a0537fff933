import mysql, { type RowDataPacket } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { EstateReader } from '../../../src/core/access/estate/estate.ts';
import { Reach } from '../../../src/core/access/reach/reach.ts';
import { mariadbRights } from '../../../src/server/access/databases/mariadb-rights.ts';
import { writeGrant } from '../../../src/server/access/databases/write-grant.ts';
import { ownDatabase } from '../../own-database.ts';

const at = new URL(ownDatabase());
const address = {
  ...{ host: at.hostname, port: Number(at.port), user: at.username },
  password: decodeURIComponent(at.password),
};
const USERS = Array.from({ length: 8 }, (_, i) => `acl_u${i}`);
const ROLES = Array.from({ length: 4 }, (_, i) => `acl_r${i}`);
const SCHEMAS = ['acl_shop', 'acl_shopping', 'aclxshop'];
const TABLES = ['t1', 't2'];
const PASSWORD = 'kept-from-sight';

/** The same numbers each time: a failure can be looked at again. */
let seed = 3;
const random = (n: number) => {
  seed = (seed * 48_271) % 2_147_483_647;
  return seed % n;
};
const pick = <T>(of: readonly T[]): T => of[random(of.length)] as T;

let root: mysql.Connection;
beforeAll(async () => {
  root = await mysql.createConnection(address);
  await clear();
  for (const schema of SCHEMAS) {
    await root.query(`CREATE DATABASE ${schema}`);
    for (const table of TABLES) await root.query(`CREATE TABLE ${schema}.${table} (a INT, b INT)`);
  }
  for (const user of USERS) await root.query(`CREATE USER ${user}@'%' IDENTIFIED BY '${PASSWORD}'`);
  for (const role of ROLES) await root.query(`CREATE ROLE ${role}`);
  await root.query(`GRANT acl_r0 TO acl_r1`);
  await root.query(`GRANT acl_r1 TO acl_r2`);
  for (const user of USERS.slice(0, -1))
    if (random(2) === 0) await root.query(`GRANT ${pick(ROLES)} TO ${user}@'%'`);
  const where = () =>
    pick([
      ...SCHEMAS.flatMap((s) => TABLES.map((t) => `${s}.${t}`)),
      ...SCHEMAS.map((s) => `\`${s.replaceAll('_', '\\_')}\`.*`),
      // Both fit more than one schema, and another pattern may be the more specific.
      '`acl\\_shop%`.*',
      '`acl_shop`.*',
    ]);
  for (let i = 0; i < 26; i++) {
    const to = random(3) === 0 ? pick(ROLES) : `${pick(USERS)}@'%'`;
    const [what, on] =
      random(5) === 0
        ? ['SELECT (b)', `${pick(SCHEMAS)}.${pick(TABLES)}`]
        : [pick(['SELECT', 'INSERT', 'UPDATE', 'DELETE', 'CREATE', 'SELECT, DELETE', 'INDEX']), where()];
    await root.query(`GRANT ${what} ON ${on} TO ${to}${random(4) === 0 ? ' WITH GRANT OPTION' : ''}`);
  }
  await root.query("GRANT SELECT ON *.* TO acl_u7@'%'");
}, 60_000);
afterAll(async () => {
  await clear();
  await root.end();
});

async function clear(): Promise<void> {
  for (const user of USERS) await root.query(`DROP USER IF EXISTS ${user}@'%'`);
  for (const role of ROLES) await root.query(`DROP ROLE IF EXISTS ${role}`);
  for (const schema of SCHEMAS) await root.query(`DROP DATABASE IF EXISTS ${schema}`);
}

/** What the server lets somebody do with a table, with no role or any that they can take. */
async function asked(user: string, table: string): Promise<readonly boolean[]> {
  const connection = await mysql.createConnection({ ...address, user, password: PASSWORD });
  const works = async (sql: string) => {
    try {
      const [found] = await connection.query<RowDataPacket[]>(sql);
      return !Array.isArray(found) || found.length > 0 || !sql.includes('information_schema.tables');
    } catch {
      return false;
    }
  };
  const any = async (...all: readonly string[]) => {
    for (const sql of all) if (await works(sql)) return true;
    return false;
  };
  const [schema, name] = table.split('.');
  const can = [false, false, false];
  try {
    const [roles] = await connection.query<RowDataPacket[]>(
      "SELECT role_name AS r FROM information_schema.applicable_roles WHERE grantee LIKE CONCAT(SUBSTRING_INDEX(CURRENT_USER(), '@', 1), '%')",
    );
    for (const role of ['NONE', ...roles.map((r) => String(r['r']))]) {
      await connection.query(`SET ROLE ${role}`);
      await connection.query('START TRANSACTION');
      const now = [
        await any(
          `SELECT 1 FROM information_schema.tables WHERE table_schema = '${schema}' AND table_name = '${name}'`,
        ),
        await any(`SELECT a FROM ${table} LIMIT 0`, `SELECT b FROM ${table} LIMIT 0`),
        await any(`INSERT INTO ${table} (a) VALUES (1)`, `UPDATE ${table} SET a = 1`, `DELETE FROM ${table}`),
      ];
      await connection.query('ROLLBACK');
      for (const [i, is] of now.entries()) can[i] ||= is;
    }
    return can;
  } finally {
    await connection.end();
  }
}

describe('reach in a database of MariaDB', () => {
  it('is the server’s own answer for every account and table', async () => {
    const lines = await mariadbRights(address, 'db');
    const reader = new EstateReader();
    for (const line of lines) reader.add(JSON.stringify(line));
    const estate = reader.done();
    expect(estate.faults).toEqual([]);
    const reach = new Reach(estate, '2026-11-30');
    let [reached, pairs] = [0, 0];
    for (const user of USERS)
      for (const table of SCHEMAS.flatMap((s) => TABLES.map((t) => `${s}.${t}`))) {
        const person = estate.people.persons[estate.people.number(`'${user}'@'%'`) ?? -1];
        const place = estate.tree.number(`db:${table}`);
        if (!person || place === undefined) throw new Error(`${user} ${table}`);
        const { steps } = reach.pair(person, place);
        expect(
          [1, 2, 4].map((bit) => (steps & bit) !== 0),
          `${user} at ${table}`,
        ).toEqual(await asked(user, table));
        pairs++;
        if (steps !== 0) reached++;
      }
    expect(pairs).toBe(48);
    expect(reached).toBeGreaterThan(10);
    expect(reached).toBeLessThan(46);
  }, 60_000);

  it('tells of locked accounts, and whose a right is by a role', async () => {
    await root.query("ALTER USER acl_u0@'%' ACCOUNT LOCK");
    await root.query("GRANT acl_r2 TO acl_u7@'%'");
    await root.query('GRANT UPDATE ON aclxshop.t2 TO acl_r0');
    const lines = await mariadbRights(address, 'db');
    expect(lines.find((l) => l.type === 'person' && l.id === "'acl_u0'@'%'")).toMatchObject({
      state: 'disabled',
    });
    const reader = new EstateReader();
    for (const line of lines) reader.take(line);
    const estate = reader.done();
    const { people, tree } = estate;
    const reach = new Reach(estate, '2026-11-30');
    const person = people.persons[people.number("'acl_u7'@'%'") ?? -1];
    if (!person) throw new Error('acl_u7');
    expect(reach.pair(person, tree.number('db:aclxshop.t2') ?? -1).ways).toContainEqual(
      expect.objectContaining({
        ...{ to: 'role acl_r0', strength: 'change', at: 'db:aclxshop.t2' },
        through: ['role acl_r2', 'role acl_r1', 'role acl_r0'],
      }),
    );
  });
});

describe('a grant that is written', () => {
  const grant = (place: string, to: string, strength: 'read' | 'change' | 'give' | 'see') =>
    ({
      type: 'grant',
      place,
      to,
      strength,
      deny: false,
      only: true,
      until: null,
      by: null,
      at: null,
    }) as const;
  const has = async (place: string, to: string, strength: string) =>
    (await mariadbRights(address, 'db')).some(
      (l) => l.type === 'grant' && l.place === place && l.to === to && l.strength === strength,
    );

  it.each([
    ['db:acl_shopping.t1', "'acl_u5'@'%'", 'change'],
    ['db:acl_shopping.t2', 'role acl_r3', 'read'],
    ['db:aclxshop.t1', "'acl_u6'@'%'", 'see'],
  ] as const)('at %s to %s, to %s, is there, once, and gone again', async (place, to, strength) => {
    await root.query(`REVOKE ALL PRIVILEGES, GRANT OPTION FROM ${to.startsWith('role') ? to.slice(5) : to}`);
    const step = (act: 'add' | 'take') => ({ is: 'grant', act, grant: grant(place, to, strength) }) as const;
    expect(await writeGrant(address, 'db', step('take'))).toBe('already');
    expect(await writeGrant(address, 'db', step('add'))).toBe('done');
    expect(await writeGrant(address, 'db', step('add'))).toBe('already');
    expect(await has(place, to, strength)).toBe(true);
    expect(await writeGrant(address, 'db', step('take'))).toBe('done');
    expect(await has(place, to, strength)).toBe(false);
  });

  it('is refused on what it cannot be taken from, to nobody, and with an end', async () => {
    await root.query("GRANT SELECT (b) ON acl_shop.t1 TO acl_u5@'%'");
    const take = { is: 'grant', act: 'take' } as const;
    await expect(
      writeGrant(address, 'db', { ...take, grant: grant('db:acl_shop.t1', "'acl_u5'@'%'", 'read') }),
    ).rejects.toThrow('by a pattern or on columns');
    const give = { is: 'grant', act: 'add' } as const;
    await expect(
      writeGrant(address, 'db', {
        ...give,
        grant: grant('db:acl_shop.t1', "'no'@'%'; DROP TABLE x", 'read'),
      }),
    ).rejects.toThrow('nobody has an account of that name');
    await expect(
      writeGrant(address, 'db', { ...give, grant: grant('db:acl_shop.t9', "'acl_u5'@'%'", 'read') }),
    ).rejects.toThrow('not there any more');
    await expect(
      writeGrant(address, 'db', {
        ...give,
        grant: { ...grant('db:acl_shop.t1', "'acl_u5'@'%'", 'read'), until: '2027-01-01' },
      }),
    ).rejects.toThrow('no grants that end');
  });
});
