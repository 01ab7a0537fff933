import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../../../launcher/free-port.ts';
import { mariadbConnector } from '../../../../src/server/holdings/connectors/mariadb.ts';
import { postgresqlConnector } from '../../../../src/server/holdings/connectors/postgresql.ts';
import type { Connector } from '../../../../src/server/holdings/connectors/connector.ts';
import { ownDatabase } from '../../../own-database.ts';
import type { RowTemplate } from '../../../../src/core/holdings/sources/row-template.ts';
import { startPostgresql } from '../../../servers/postgresql.ts';
import type { ServerProcess } from '../../../servers/server-process.ts';
import { datedRowsSuite, sailingTables } from './dated-rows-suite.ts';
import { connectorSuite, contentText } from './suite.ts';

const at = new URL(ownDatabase());
const place = { host: at.hostname, port: Number(at.port), user: at.username };
const secret = decodeURIComponent(at.password);

const linesOf = (rows: readonly (readonly unknown[])[]) =>
  rows
    .map((r) =>
      r
        .map((v) =>
          Buffer.isBuffer(v) ? v.toString('hex') : v instanceof Date ? v.toISOString() : String(v),
        )
        .join('|'),
    )
    .join('\n');
const ALL = { rowsPerTable: null, rowTemplates: [] };

async function readAll(connector: Connector, table: string): Promise<string> {
  const items = await connector.details(table, (await connector.list(table)).items);
  const texts = [];
  for (const item of items) texts.push(await contentText(connector, table, item));
  return texts.join('');
}

describe('a database of MariaDB', () => {
  const database = 'estate_test';
  let connection: mysql.Connection;
  beforeAll(async () => {
    connection = await mysql.createConnection({ ...place, password: secret, multipleStatements: true });
    await connection.query(`DROP DATABASE IF EXISTS ${database}; CREATE DATABASE ${database}; USE ${database};
      CREATE TABLE booking (id INT PRIMARY KEY, name VARCHAR(100), note TEXT, born DATE);
      INSERT INTO booking SELECT seq, CONCAT('Passenger ', seq), NULL, '1980-02-29' FROM seq_1_to_12000;
      CREATE TABLE crossing (ship VARCHAR(20), day DATE, crew INT, PRIMARY KEY (ship, day));
      INSERT INTO crossing SELECT CONCAT('MS ', seq % 7, ', the ship'), DATE_ADD('2000-01-01', INTERVAL seq DAY), seq FROM seq_1_to_6000;
      CREATE TABLE log (line VARCHAR(100)); INSERT INTO log VALUES ('no key'), ('none');
      CREATE TABLE \`odd/name\` (id BINARY(2) PRIMARY KEY, \`a"b\` BLOB); INSERT INTO \`odd/name\` VALUES (0x00FF, 0xFFFE), (0x0001, 'text');
      CREATE TABLE nothing (id INT PRIMARY KEY);
      CREATE VIEW everything AS SELECT * FROM booking`);
  });
  afterAll(async () => {
    await connection.query(`DROP DATABASE ${database}`);
    await connection.end();
  });
  const connector = (most: number | null = null, rowTemplates: readonly RowTemplate[] = []) =>
    mariadbConnector({ kind: 'mariadb', ...place, database }, secret, place.host, {
      rowsPerTable: most,
      rowTemplates: [...rowTemplates],
    });

  connectorSuite(() => ({
    connector: () => Promise.resolve(connector()),
    expected: { booking: 3, crossing: 2, log: 1, 'odd\\x2fname': 1 },
    sample: { place: 'log', text: 'no key' },
    remove: async () => void (await connection.query('DROP TABLE log')),
  }));

  describe('with templates', () => {
    beforeAll(async () => {
      for (const statement of [
        ...sailingTables('BLOB', 'DATETIME'),
        'UPDATE sailing SET ticket = 0x00FF5C WHERE id = 1',
      ])
        await connection.query(statement);
    });
    afterAll(() => connection.query('DROP TABLE bag, claim, sailing'));
    datedRowsSuite(() => ({
      connector: (templates) => connector(null, templates),
      place: 'sailing',
      async sql(statement) {
        const [rows] = await connection.query({ sql: statement, rowsAsArray: true });
        return Array.isArray(rows) ? linesOf(rows as unknown as unknown[][]) : '';
      },
    }));
  });

  it('reads every row once, in groups that stay while rows are added', async () => {
    const c = connector();
    const rows = (await readAll(c, 'booking')).split('\n').filter((l) => /^\d/.test(l));
    expect(new Set(rows.map((r) => r.split(',')[0])).size).toBe(12_000);
    expect(rows).toHaveLength(12_000);
    const keyed = (await readAll(c, 'crossing')).match(/the ship/g);
    expect(keyed).toHaveLength(6000);
    const names = (await c.list('booking')).items;
    await connection.query("INSERT INTO booking VALUES (12001, 'Late', 'note', '1999-12-31')");
    expect((await c.list('booking')).items).toEqual(names);
    expect(await readAll(c, 'booking')).toContain('12001,Late,note,1999-12-31');
    await c.close();
  });

  it('reads so many rows of a table as it was asked to', async () => {
    const c = connector(5000);
    expect((await c.list('booking')).items).toHaveLength(1);
    expect((await readAll(c, 'booking')).split('\n').filter((l) => /^\d/.test(l))).toHaveLength(5000);
    await c.close();
  });

  it('leaves out what is no text', async () => {
    const c = connector();
    expect(await readAll(c, 'odd\\x2fname')).toContain('text');
    await c.close();
  });

  it('says why it cannot be opened', async () => {
    const to = (more: object, password = secret) =>
      mariadbConnector({ kind: 'mariadb', ...place, database, ...more }, password, place.host, ALL).check();
    await expect(to({}, 'wrong')).rejects.toMatchObject({ field: 'secret' });
    await expect(to({ database: 'never_there' })).rejects.toMatchObject({ field: 'database' });
    const [port = 0] = await freePorts(1);
    await expect(to({ port })).rejects.toMatchObject({ field: 'host' });
  });
});

describe('a database of PostgreSQL', () => {
  const home = mkdtempSync(join(tmpdir(), 'yare-pg-'));
  let server: ServerProcess;
  let client: pg.Client;
  beforeAll(async () => {
    const [port = 0] = await freePorts(1);
    server = await startPostgresql(home, port, 'kept from sight');
    client = new pg.Client({
      host: '127.0.0.1',
      port,
      user: 'reader',
      password: 'kept from sight',
      database: 'postgres',
    });
    await client.connect();
    await client.query(`CREATE SCHEMA club; CREATE TABLE club.member (id int PRIMARY KEY, name text, born date, extra jsonb);
      INSERT INTO club.member SELECT n, 'Member ' || n, '1980-02-29', '{"card": 1}' FROM generate_series(1, 7000) n;
      CREATE TABLE "odd name" (a text, b int, PRIMARY KEY (b, a)); INSERT INTO "odd name" VALUES ('why? not', 1);
      CREATE TABLE keyless (line text); INSERT INTO keyless VALUES ('no key')`);
  });
  afterAll(async () => {
    await client?.end();
    await server?.stop();
    rmSync(home, { recursive: true, force: true });
  });
  const connector = (
    password = 'kept from sight',
    database = 'postgres',
    rowTemplates: readonly RowTemplate[] = [],
  ) =>
    postgresqlConnector(
      { kind: 'postgresql', host: '127.0.0.1', port: server.port, user: 'reader', database },
      password,
      '127.0.0.1',
      { rowsPerTable: null, rowTemplates: [...rowTemplates] },
    );

  connectorSuite(() => ({
    connector: () => Promise.resolve(connector()),
    expected: { 'club/member': 2, 'public/odd name': 1, 'public/keyless': 1 },
    sample: { place: 'public/keyless', text: 'no key' },
    remove: async () => void (await client.query('DROP TABLE keyless')),
  }));

  describe('with templates', () => {
    beforeAll(async () => {
      for (const statement of [
        ...sailingTables('BYTEA', 'TIMESTAMP'),
        "UPDATE sailing SET ticket = '\\x00ff5c' WHERE id = 1",
      ])
        await client.query(statement);
    });
    afterAll(() => client.query('DROP TABLE bag, claim, sailing'));
    datedRowsSuite(() => ({
      connector: (templates) => connector(undefined, undefined, templates),
      place: 'public/sailing',
      sql: async (statement) => linesOf((await client.query({ text: statement, rowMode: 'array' })).rows),
    }));
  });

  it('reads every row once, and cannot write', async () => {
    const c = connector();
    const rows = (await readAll(c, 'club/member')).split('\n').filter((l) => /^\d/.test(l));
    expect(rows).toHaveLength(7000);
    expect(rows[6999]).toBe('7000,Member 7000,1980-02-29,"{""card"": 1}"');
    expect(await readAll(c, 'public/odd name')).toContain('why? not');
    await c.close();
  });

  it('says why it cannot be opened', async () => {
    await expect(connector('wrong').check()).rejects.toMatchObject({ field: 'secret' });
    await expect(connector('kept from sight', 'never').check()).rejects.toMatchObject({ field: 'database' });
  });
});
