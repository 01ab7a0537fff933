import { group } from 'd3-array';
import mysql, { type ResultSetHeader, type RowDataPacket } from 'mysql2/promise';
import { z } from 'zod';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import { isUnreachable } from '../../store/pool.ts';
import { ItemError, SourceError, type Connector } from './connector.ts';
import type { RowSetting, SqlColumn, SqlDatabase, SqlTable, SqlValue } from './sql-database.ts';
import { sqlConnector } from './sql-tables.ts';

type MariaDbAddress = Extract<SourceAddress, { kind: 'mariadb' }>;

const Table = z.object({
  name: z.string(),
  n: z.coerce.number(),
  bytes: z.coerce.number(),
  updated: z.string().nullable(),
});
const KeyColumn = z.object({ t: z.string(), c: z.string() });
const Column = z.object({
  name: z.string(),
  type: z.string(),
  nullable: z.string(),
  made: z.string().nullable(),
});
const Dependent = z.object({
  schema: z.string(),
  t: z.string(),
  fk: z.string(),
  own: z.string(),
  refers: z.string(),
});

const DAYS = /^(?:date|datetime|timestamp)$/;
const BYTES = /^(?:binary|varbinary|tinyblob|blob|mediumblob|longblob|bit)$/;
const SHAPES = /^(?:geometry|point|linestring|polygon|multi\w+|geometrycollection)$/;

/** A database of MariaDB, read in transactions that cannot write. */
export function mariadbConnector(
  address: MariaDbAddress,
  secret: string,
  connectTo: string,
  rows: RowSetting,
): Connector {
  return sqlConnector(() => open(address, secret, connectTo), rows);
}

async function open(address: MariaDbAddress, secret: string, connectTo: string): Promise<SqlDatabase> {
  const connection = await mysql
    .createConnection({
      host: connectTo,
      port: address.port,
      user: address.user,
      password: secret,
      database: address.database,
      connectTimeout: 10_000,
      dateStrings: true,
      supportBigNumbers: true,
      bigNumberStrings: true,
      rowsAsArray: true,
    })
    .catch((error: unknown) => {
      throw asSourceError(error, address);
    });
  connection.on('error', () => {});
  await connection.query('SET SESSION TRANSACTION READ ONLY');
  await connection.query("SET SESSION time_zone = '+00:00'");
  const rows = async <T extends z.ZodType>(
    shape: T,
    sql: string,
    ...more: readonly string[]
  ): Promise<z.infer<T>[]> =>
    (
      await connection.query<RowDataPacket[]>({ sql, rowsAsArray: false }, [address.database, ...more])
    )[0].map((r) => shape.parse(r));
  const quote = (name: string) => `\`${name.replaceAll('`', '``')}\``;
  const query = async (sql: string, params: readonly SqlValue[]) => {
    const [found, fields] = await connection.query<RowDataPacket[] | ResultSetHeader>(sql, [...params]);
    return Array.isArray(found)
      ? { columns: fields.map((f) => f.name), rows: found as unknown as unknown[][], changed: 0 }
      : { columns: [], rows: [], changed: found.affectedRows };
  };
  return {
    async tables() {
      const all = await rows(
        Table,
        `SELECT table_name AS name, COALESCE(table_rows, 0) AS n, COALESCE(data_length, 0) AS bytes, update_time AS updated
         FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE'`,
      );
      const keys = await rows(
        KeyColumn,
        `SELECT table_name AS t, column_name AS c FROM information_schema.statistics
         WHERE table_schema = ? AND index_name = 'PRIMARY' ORDER BY table_name, seq_in_index`,
      );
      return all.map((t) => ({
        steps: [t.name],
        key: keys.filter((k) => k.t === t.name).map((k) => k.c),
        rows: t.n,
        bytes: t.bytes,
        version: t.updated ? `${t.updated.replace(' ', 'T')}Z` : '',
      }));
    },
    quote,
    query,
    async columns({ steps }: SqlTable): Promise<readonly SqlColumn[]> {
      const found = await rows(
        Column,
        `SELECT column_name AS name, data_type AS type, is_nullable AS nullable, is_generated AS made
         FROM information_schema.columns WHERE table_schema = ? AND table_name = ? ORDER BY ordinal_position`,
        steps.at(-1) ?? '',
      );
      return found.map((c) => ({
        name: c.name,
        is: DAYS.test(c.type)
          ? 'day'
          : BYTES.test(c.type)
            ? 'bytes'
            : SHAPES.test(c.type)
              ? 'shape'
              : 'other',
        nullable: c.nullable === 'YES',
        made: c.made === 'ALWAYS',
      }));
    },
    async dependents({ steps }) {
      const found = await rows(
        Dependent,
        `SELECT k.table_schema AS \`schema\`, k.table_name AS t, k.constraint_name AS fk, k.column_name AS own,
           k.referenced_column_name AS refers
         FROM information_schema.referential_constraints r
         JOIN information_schema.key_column_usage k ON k.constraint_schema = r.constraint_schema
           AND k.constraint_name = r.constraint_name AND k.table_name = r.table_name
         WHERE r.unique_constraint_schema = ? AND r.referenced_table_name = ? AND r.delete_rule NOT IN ('RESTRICT', 'NO ACTION')
         ORDER BY k.ordinal_position`,
        steps.at(-1) ?? '',
      );
      return [...group(found, (f) => `${f.schema}.${f.t}.${f.fk}`).values()].map((of) => ({
        table: of[0]?.t ?? '',
        quoted: `${quote(of[0]?.schema ?? '')}.${quote(of[0]?.t ?? '')}`,
        columns: of.map((f) => [f.own, f.refers] as const),
      }));
    },
    period: (column, by) => `DATE_FORMAT(${column}, '${PERIODS[by]}')`,
    digest: (columns) =>
      `CAST(CONV(SUBSTRING(MD5(CONCAT_WS('|', ${columns
        .map((c) => `COALESCE(HEX(CAST(${c} AS BINARY)), 'N')`)
        .join(', ')})), 1, 15), 16, 10) AS UNSIGNED)`,
    overriding: '',
    async write(work) {
      await connection.query('START TRANSACTION READ WRITE');
      try {
        const done = await work(query);
        await connection.query('COMMIT');
        return done;
      } catch (error) {
        await connection.query('ROLLBACK').catch(() => {});
        throw saidByServer(error) ? new ItemError((error as Error).message) : error;
      }
    },
    isLost: isUnreachable,
    close: () => connection.end(),
  };
}

const PERIODS = { day: '%Y-%m-%d', month: '%Y-%m', year: '%Y' };

/** Of a statement, and not of the connection. */
function saidByServer(error: unknown): boolean {
  return (error as { sqlState?: string }).sqlState !== undefined && !isUnreachable(error);
}

function asSourceError(error: unknown, { host, port, database }: MariaDbAddress): SourceError {
  const { code, message } = error as { code?: string; message: string };
  if (code === 'ER_ACCESS_DENIED_ERROR')
    return new SourceError('The database does not take this user and password.', 'secret');
  if (code === 'ER_BAD_DB_ERROR' || code === 'ER_DBACCESS_DENIED_ERROR')
    return new SourceError(`There is no database “${database}”, or this user may not open it.`, 'database');
  if (code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${host}:${port}.`, 'host');
  return new SourceError(`${host}:${port} could not be opened as a database: ${message}.`, 'host');
}
