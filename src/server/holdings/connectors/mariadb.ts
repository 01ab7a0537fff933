import mysql, { type RowDataPacket } from 'mysql2/promise';
import { z } from 'zod';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import { isUnreachable } from '../../store/pool.ts';
import { SourceError, type Connector } from './connector.ts';
import { sqlConnector, type SqlDatabase } from './sql-tables.ts';

type MariaDbAddress = Extract<SourceAddress, { kind: 'mariadb' }>;

const Table = z.object({
  name: z.string(),
  n: z.coerce.number(),
  bytes: z.coerce.number(),
  updated: z.string().nullable(),
});
const KeyColumn = z.object({ t: z.string(), c: z.string() });

/** A database of MariaDB, in transactions that cannot write. */
export function mariadbConnector(
  address: MariaDbAddress,
  secret: string,
  connectTo: string,
  most: number | null,
): Connector {
  return sqlConnector(() => open(address, secret, connectTo), most);
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
  const rows = async <T extends z.ZodType>(shape: T, sql: string): Promise<z.infer<T>[]> =>
    (await connection.query<RowDataPacket[]>({ sql, rowsAsArray: false }, [address.database]))[0].map((r) =>
      shape.parse(r),
    );
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
    quote: (name) => `\`${name.replaceAll('`', '``')}\``,
    async query(sql, params) {
      const [found, fields] = await connection.query<RowDataPacket[]>(sql, [...params]);
      return { columns: fields.map((f) => f.name), rows: found as unknown as unknown[][] };
    },
    isLost: isUnreachable,
    close: () => connection.end(),
  };
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
