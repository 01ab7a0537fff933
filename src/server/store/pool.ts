import mysql from 'mysql2/promise';
import type { Pool, PoolConnection, ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { z } from 'zod';

type Value = string | number | bigint | boolean | Date | Buffer | Uint8Array | null | undefined;
type Params = readonly (Value | readonly Value[] | readonly (readonly Value[])[])[];

/** Something that runs SQL: the pool, or a transaction on one of its connections. */
export interface Queries {
  /** Rows parsed by `row`; a row of another shape throws. */
  all<T extends z.ZodType>(row: T, sql: string, params?: Params): Promise<z.infer<T>[]>;
  one<T extends z.ZodType>(row: T, sql: string, params?: Params): Promise<z.infer<T> | undefined>;
  run(sql: string, params?: Params): Promise<{ readonly changed: number; readonly id: number }>;
}

export interface Store extends Queries {
  /**
   * Runs `work` in one transaction. When it loses to another (deadlock 1213, lock wait 1205) the whole is run again,
   * so `work` must do nothing that cannot be done twice outside the database.
   */
  transaction<T>(work: (tx: Queries) => Promise<T>): Promise<T>;
  /** A connection of its own, for what must outlive a statement (the migration lock). */
  connection<T>(work: (connection: Queries) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

const ATTEMPTS = 8;

export function openStore(url: string, connections: number): Store {
  const pool = mysql.createPool({
    uri: url,
    connectionLimit: connections,
    dateStrings: true,
    timezone: 'Z',
    supportBigNumbers: true,
    decimalNumbers: true,
    charset: 'utf8mb4_unicode_ci',
    // mysql2 hands JSON columns of MariaDB over as text; rows parse it themselves.
    connectTimeout: 10_000,
  });
  pool.on('connection', (connection) => {
    connection.query(
      "SET SESSION time_zone = '+00:00', tx_isolation = 'READ-COMMITTED', innodb_lock_wait_timeout = 10, sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO'",
    );
  });
  const single = queries(pool);
  return {
    ...single,
    // A statement by itself is a transaction, too.
    run: (sql, params) => again(() => single.run(sql, params)),
    transaction: (work) => retried(pool, work),
    connection: async (work) => {
      const connection = await pool.getConnection();
      try {
        return await work(queries(connection));
      } finally {
        connection.release();
      }
    },
    close: () => pool.end(),
  };
}

async function retried<T>(pool: Pool, work: (tx: Queries) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    const connection = await pool.getConnection();
    try {
      await connection.beginTransaction();
      const result = await work(queries(connection));
      await connection.commit();
      connection.release();
      return result;
    } catch (error) {
      await abandon(connection);
      if (attempt >= ATTEMPTS || !lostToAnother(error)) throw error;
      await pause(attempt);
    }
  }
}

async function again<T>(work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++)
    try {
      return await work();
    } catch (error) {
      if (attempt >= ATTEMPTS || !lostToAnother(error)) throw error;
      await pause(attempt);
    }
}

function pause(attempt: number): Promise<void> {
  return new Promise((done) => setTimeout(done, 2 ** attempt * (5 + Math.random() * 10)));
}

async function abandon(connection: PoolConnection): Promise<void> {
  try {
    await connection.rollback();
    connection.release();
  } catch {
    connection.destroy();
  }
}

/** Deadlock, lock wait timeout. */
export function lostToAnother(error: unknown): boolean {
  const errno = (error as { errno?: number }).errno;
  return errno === 1213 || errno === 1205;
}

const AWAY = new Set([
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_CON_COUNT_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CONNECTION_KILLED',
  'ER_QUERY_INTERRUPTED',
]);

/** The database could not be reached, or left in the middle; whatever was under way is undone. */
export function isUnreachable(error: unknown): boolean {
  // The driver marks so what ends a connection, or keeps one from being made.
  const { code, fatal } = (error ?? {}) as { code?: unknown; fatal?: unknown };
  return fatal === true || (typeof code === 'string' && AWAY.has(code));
}

export function isDuplicate(error: unknown): boolean {
  return (error as { errno?: number }).errno === 1062;
}

function queries(on: Pool | PoolConnection): Queries {
  const all = async <T extends z.ZodType>(
    row: T,
    sql: string,
    params: Params = [],
  ): Promise<z.infer<T>[]> => {
    const [rows] = await on.query<RowDataPacket[]>(sql, params as unknown[]);
    return rows.map((r) => row.parse(r));
  };
  return {
    all,
    one: async (row, sql, params) => (await all(row, sql, params))[0],
    run: async (sql, params = []) => {
      const [done] = await on.query<ResultSetHeader>(sql, params as unknown[]);
      return { changed: done.affectedRows ?? 0, id: done.insertId ?? 0 };
    },
  };
}
