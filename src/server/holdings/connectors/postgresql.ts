import pg from 'pg';
import { z } from 'zod';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import { ItemError, SourceError, type Connector } from './connector.ts';
import {
  quotedTable,
  type RowSetting,
  type SqlColumn,
  type SqlDatabase,
  type SqlTable,
  type SqlValue,
} from './sql-database.ts';
import { sqlConnector } from './sql-tables.ts';

type PostgresAddress = Extract<SourceAddress, { kind: 'postgresql' }>;

const TableRow = z.tuple([
  z.string(),
  z.string(),
  z.coerce.number(),
  z.coerce.number(),
  z.array(z.string()).nullable(),
]);

const ColumnRow = z.tuple([z.string(), z.enum(['day', 'other']), z.string(), z.string()]);

/** A database of PostgreSQL, read in transactions that cannot write. */
export function postgresqlConnector(
  address: PostgresAddress,
  secret: string,
  connectTo: string,
  rows: RowSetting,
): Connector {
  return sqlConnector(() => open(address, secret, connectTo), rows);
}

async function open(address: PostgresAddress, secret: string, connectTo: string): Promise<SqlDatabase> {
  const client = new pg.Client({
    host: connectTo,
    port: address.port,
    user: address.user,
    password: secret,
    database: address.database,
    connectionTimeoutMillis: 10_000,
    // Dates and numbers as the database writes them.
    types: { getTypeParser: () => (text: unknown) => text },
  });
  client.on('error', () => {});
  try {
    await client.connect();
  } catch (error) {
    throw asSourceError(error, address);
  }
  await client.query("SET default_transaction_read_only = on; SET TIME ZONE 'UTC'");
  const query = async (sql: string, params: readonly SqlValue[]) => {
    let n = 0;
    const found = await client.query<unknown[]>({
      text: sql.replace(/\?/g, () => `$${++n}`),
      values: [...params],
      rowMode: 'array',
    });
    return { columns: found.fields.map((f) => f.name), rows: found.rows, changed: found.rowCount ?? 0 };
  };
  return {
    async tables() {
      const { rows } = await query(
        `SELECT n.nspname, c.relname, GREATEST(c.reltuples, 0)::bigint, pg_relation_size(c.oid),
           (SELECT json_agg(a.attname ORDER BY k.i) FROM pg_index x
            CROSS JOIN LATERAL unnest(x.indkey) WITH ORDINALITY AS k(n, i)
            JOIN pg_attribute a ON a.attrelid = x.indrelid AND a.attnum = k.n
            WHERE x.indrelid = c.oid AND x.indisprimary)
         FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
         WHERE c.relkind IN ('r', 'm') AND n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg\\_%'
         ORDER BY 1, 2`,
        [],
      );
      return rows.map((row) => {
        const key = typeof row[4] === 'string' ? (JSON.parse(row[4]) as unknown) : null;
        const [schema, name, n, bytes, columns] = TableRow.parse([...row.slice(0, 4), key]);
        return { steps: [schema, name], key: columns ?? [], rows: n, bytes, version: '' };
      });
    },
    quote,
    query,
    async columns(table: SqlTable): Promise<readonly SqlColumn[]> {
      const { rows } = await query(
        `SELECT a.attname, CASE WHEN a.atttypid IN ('date'::regtype, 'timestamp'::regtype, 'timestamptz'::regtype) THEN 'day' ELSE 'other' END,
           (NOT a.attnotnull)::text, (a.attgenerated <> '')::text
         FROM pg_attribute a WHERE a.attrelid = to_regclass(?) AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attnum`,
        [quotedTable({ quote }, table.steps)],
      );
      return rows.map((row) => {
        const [name, is, nullable, made] = ColumnRow.parse(row);
        return { name, is, nullable: nullable === 'true', made: made === 'true' };
      });
    },
    async dependents(table) {
      const { rows } = await query(
        `SELECT c.conrelid::regclass::text, json_agg(json_build_array(o.attname, r.attname) ORDER BY k.i)
         FROM pg_constraint c CROSS JOIN LATERAL unnest(c.conkey, c.confkey) WITH ORDINALITY AS k(own, refers, i)
         JOIN pg_attribute o ON o.attrelid = c.conrelid AND o.attnum = k.own
         JOIN pg_attribute r ON r.attrelid = c.confrelid AND r.attnum = k.refers
         WHERE c.contype = 'f' AND c.confrelid = to_regclass(?) AND c.confdeltype NOT IN ('a', 'r') GROUP BY c.oid, c.conrelid`,
        [quotedTable({ quote }, table.steps)],
      );
      return rows.map((row) => {
        const [quoted, columns] = z.tuple([z.string(), z.string()]).parse(row);
        return {
          table: quoted.replaceAll('"', ''),
          quoted,
          columns: z.array(z.tuple([z.string(), z.string()])).parse(JSON.parse(columns)),
        };
      });
    },
    period: (column, by) => `to_char(${column}, '${PERIODS[by]}')`,
    digest: (columns) =>
      `('x' || substr(md5(CAST(ROW(${columns.join(', ')}) AS text)), 1, 15))::bit(60)::bigint`,
    overriding: ' OVERRIDING SYSTEM VALUE',
    async write(work) {
      await client.query('START TRANSACTION READ WRITE');
      try {
        const done = await work(query);
        await client.query('COMMIT');
        return done;
      } catch (error) {
        await client.query('ROLLBACK').catch(() => {});
        throw error instanceof pg.DatabaseError && !isLost(error) ? new ItemError(error.message) : error;
      }
    },
    isLost,
    close: () => client.end(),
  };
}

const PERIODS = { day: 'YYYY-MM-DD', month: 'YYYY-MM', year: 'YYYY' };
const quote = (name: string) => pg.escapeIdentifier(name);

/** What the server says itself is about a statement; classes 08 and 57 are about the connection. */
function isLost(error: unknown): boolean {
  return !(error instanceof pg.DatabaseError) || /^(?:08|57)/.test(error.code ?? '');
}

function asSourceError(error: unknown, { host, port, database }: PostgresAddress): SourceError {
  const { code, message } = error as { code?: string; message: string };
  if (code === '28P01' || code === '28000')
    return new SourceError('The database does not take this user and password.', 'secret');
  if (code === '3D000') return new SourceError(`There is no database “${database}”.`, 'database');
  if (code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${host}:${port}.`, 'host');
  return new SourceError(`${host}:${port} could not be opened as a database: ${message}.`, 'host');
}
