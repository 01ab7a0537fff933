import pg from 'pg';
import { z } from 'zod';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import { SourceError, type Connector } from './connector.ts';
import { sqlConnector, type SqlDatabase } from './sql-tables.ts';

type PostgresAddress = Extract<SourceAddress, { kind: 'postgresql' }>;

const TableRow = z.tuple([
  z.string(),
  z.string(),
  z.coerce.number(),
  z.coerce.number(),
  z.array(z.string()).nullable(),
]);

/** A database of PostgreSQL, in a session that cannot write. */
export function postgresqlConnector(
  address: PostgresAddress,
  secret: string,
  connectTo: string,
  most: number | null,
): Connector {
  return sqlConnector(() => open(address, secret, connectTo), most);
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
  const query = async (sql: string, params: readonly unknown[]) => {
    let n = 0;
    const found = await client.query<unknown[]>({
      text: sql.replace(/\?/g, () => `$${++n}`),
      values: [...params],
      rowMode: 'array',
    });
    return { columns: found.fields.map((f) => f.name), rows: found.rows };
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
    quote: (name) => pg.escapeIdentifier(name),
    query,
    // What the server says itself is about a statement; classes 08 and 57 are about the connection.
    isLost: (error) => !(error instanceof pg.DatabaseError) || /^(?:08|57)/.test(error.code ?? ''),
    close: () => client.end(),
  };
}

function asSourceError(error: unknown, { host, port, database }: PostgresAddress): SourceError {
  const { code, message } = error as { code?: string; message: string };
  if (code === '28P01' || code === '28000')
    return new SourceError('The database does not take this user and password.', 'secret');
  if (code === '3D000') return new SourceError(`There is no database “${database}”.`, 'database');
  if (code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${host}:${port}.`, 'host');
  return new SourceError(`${host}:${port} could not be opened as a database: ${message}.`, 'host');
}
