import { stringify } from 'csv-stringify/sync';
import { nameBytes, nameText } from '../../../core/holdings/sources/name-text.ts';
import { Where } from '../../store/where.ts';
import { ItemError, MOST_BYTES, NOTHING_LISTED, type Connector, type ListedItem } from './connector.ts';

/** A table as its database knows it. */
export interface SqlTable {
  /** Schema, where there is more than one, and name. */
  readonly steps: readonly string[];
  /** Columns of its primary key, in order; none where it has none. */
  readonly key: readonly string[];
  /** As the database guesses. */
  readonly rows: number;
  readonly bytes: number;
  /** When it was written last, where that is known. */
  readonly version: string;
}

type SqlValue = string | number | Buffer;

/** What one kind of database does its own way. */
export interface SqlDatabase {
  tables(): Promise<readonly SqlTable[]>;
  quote(name: string): string;
  /** With `?` for parameters. */
  query(sql: string, params: readonly SqlValue[]): Promise<SqlRows>;
  /** Whether an error says that the connection is gone, and nothing of one table. */
  isLost(error: unknown): boolean;
  close(): Promise<void>;
}

export interface SqlRows {
  readonly columns: readonly string[];
  readonly rows: readonly (readonly unknown[])[];
}

/** Rows that are read as one item. */
const GROUP = 5000;
/** Of a table without a key, more are not read. */
const KEYLESS = 100_000;
const FIRST = 'from the first';
const BEHIND = 'from key ';

/**
 * Tables as places, groups of rows as items. A group begins at a key, so that it stays the same one while rows are added;
 * a table without a key is one item. `most` rows of each table.
 */
export function sqlConnector(open: () => Promise<SqlDatabase>, most: number | null): Connector {
  let database: Promise<SqlDatabase> | undefined;
  let tables: ReadonlyMap<string, SqlTable> | undefined;
  const db = () => (database ??= open());
  const allTables = async () =>
    (tables ??= new Map(
      (await (await db()).tables()).map((t) => [t.steps.map((s) => nameText(Buffer.from(s))).join('/'), t]),
    ));
  const quoted = (on: SqlDatabase, { steps }: SqlTable) => steps.map((s) => on.quote(s)).join('.');
  const limit = ({ key }: SqlTable) => Math.min(most ?? Infinity, key.length === 0 ? KEYLESS : Infinity);

  /** Where groups begin; the first at the first row. */
  const groups = async (table: SqlTable): Promise<readonly string[]> => {
    const on = await db();
    const any = await on.query(`SELECT 1 FROM ${quoted(on, table)} LIMIT 1`, []);
    if (any.rows.length === 0) return [];
    const names = [FIRST];
    if (table.key.length === 0) return names;
    const columns = table.key.map((c) => on.quote(c));
    for (let rows = GROUP, after: readonly SqlValue[] | undefined; rows < limit(table); rows += GROUP) {
      const where = new Where();
      if (after) from(where, columns, after);
      const found = await on.query(
        `SELECT ${columns.join(', ')} FROM ${quoted(on, table)} WHERE ${where.sql} ORDER BY ${columns.join(', ')} LIMIT 1 OFFSET ${GROUP}`,
        where.params,
      );
      const next = found.rows[0];
      if (!next) break;
      after = next.map(keyValue);
      names.push(groupName(after));
    }
    return names;
  };

  return {
    async check() {
      tables = undefined;
      await allTables();
    },
    async list(place) {
      if (place === '') tables = undefined;
      const all = await allTables();
      const table = all.get(place);
      if (!table) {
        const prefix = place === '' ? '' : `${place}/`;
        const below = [...all.keys()]
          .filter((p) => p.startsWith(prefix))
          .map((p) => p.slice(prefix.length).split('/')[0] ?? '');
        return { items: [], places: [...new Set(below)] };
      }
      try {
        return { items: await groups(table), places: [] };
      } catch (error) {
        if ((await db()).isLost(error)) throw error;
        return { ...NOTHING_LISTED, problem: `The table was not read: ${(error as Error).message}.` };
      }
    },
    async details(place, names) {
      const table = (await allTables()).get(place);
      if (!table) return [];
      const each = Math.round(table.bytes / Math.max(1, Math.ceil(table.rows / GROUP)));
      const groups = names.filter(
        (n) => n === FIRST || (n.startsWith(BEHIND) && partsOf(n).length === table.key.length),
      );
      return groups.map((name): ListedItem => ({
        name,
        title: `${table.steps.at(-1)}, rows ${name}`,
        size: each,
        created: null,
        changed: table.version || null,
        owner: '',
        version: table.version,
      }));
    },
    async read(place, { name, title = name }) {
      const table = (await allTables()).get(place);
      if (!table) throw new ItemError('the table is gone');
      const on = await db();
      const where = new Where();
      const columns = table.key.map((c) => on.quote(c));
      if (name !== FIRST) from(where, columns, groupKey(name, table));
      const rows = table.key.length === 0 ? limit(table) : GROUP;
      const order = columns.length > 0 ? ` ORDER BY ${columns.join(', ')}` : '';
      try {
        const found = await on.query(
          `SELECT * FROM ${quoted(on, table)} WHERE ${where.sql}${order} LIMIT ${rows}`,
          where.params,
        );
        const csv = stringify([found.columns, ...found.rows.map((r) => r.map(cellText))]);
        if (csv.length > MOST_BYTES)
          throw new ItemError(`it is larger than ${Math.round(MOST_BYTES / 1e6)} MB`);
        return { bytes: Buffer.from(csv), name: 'table.csv', title };
      } catch (error) {
        if (error instanceof ItemError || on.isLost(error)) throw error;
        throw new ItemError((error as Error).message);
      }
    },
    async close() {
      const opened = database;
      database = undefined;
      await opened?.then((d) => d.close()).catch(() => {});
    },
  };
}

/** Rows with this key, and those after it. */
function from(where: Where, columns: readonly string[], key: readonly SqlValue[]): void {
  // Written out: databases make no use of an index for a comparison of rows.
  where.andAny(
    ...columns.map((c, i): [string, ...SqlValue[]] => [
      `(${[...columns.slice(0, i).map((b) => `${b} = ?`), `${c} ${i === columns.length - 1 ? '>=' : '>'} ?`].join(' AND ')})`,
      ...key.slice(0, i + 1),
    ]),
  );
}

function keyValue(value: unknown): SqlValue {
  if (typeof value === 'number' || Buffer.isBuffer(value)) return value;
  return value instanceof Date ? value.toISOString() : String(value);
}

function groupName(key: readonly SqlValue[]): string {
  return `${BEHIND}${key.map((k) => nameText(Buffer.isBuffer(k) ? k : Buffer.from(String(k))).replaceAll(',', '\\x2c')).join(',')}`;
}

function partsOf(name: string): readonly string[] {
  return name.slice(BEHIND.length).split(',');
}

function groupKey(name: string, { key }: SqlTable): readonly SqlValue[] {
  const parts = partsOf(name);
  if (parts.length !== key.length) throw new ItemError('the key of its table was changed');
  return parts.map((p) => {
    const bytes = Buffer.from(nameBytes(p));
    const text = bytes.toString('utf8');
    return Buffer.from(text).equals(bytes) ? text : bytes;
  });
}

function cellText(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (Buffer.isBuffer(value)) {
    const text = value.toString('utf8');
    return text.includes('\ufffd') || text.includes('\0') ? '' : text;
  }
  if (value instanceof Date) return value.toISOString();
  return typeof value === 'object' ? JSON.stringify(value) : String(value);
}
