import { stringify } from 'csv-stringify/sync';
import { nameBytes, nameText } from '../../../core/text/name-text.ts';
import { Where } from '../../store/where.ts';
import {
  FixedItemError,
  ItemError,
  MOST_BYTES,
  NOTHING_LISTED,
  type Connector,
  type ListedItem,
  type ListedTable,
} from './connector.ts';
import { isDatedName } from '../../../core/holdings/sources/row-template.ts';
import { DatedRows, OTHERWISE } from './dated-rows.ts';
import {
  quotedTable,
  type RowSetting,
  type SqlDatabase,
  type SqlTable,
  type SqlValue,
} from './sql-database.ts';

/** Rows that are read as one item. */
const GROUP = 5000;
/** Of a table without a key, more are not read. */
const KEYLESS = 100_000;
const FIRST = 'from the first';
const BEHIND = 'from key ';

/**
 * Tables as places, groups of rows as items. A group begins at a key, so that it stays the same one while rows are added;
 * a table without a key is one item. Of a table with a template, the rows of a period are an item, which can be let go.
 */
export function sqlConnector(
  open: () => Promise<SqlDatabase>,
  { rowsPerTable: most, rowTemplates }: RowSetting,
): Connector {
  let database: Promise<SqlDatabase> | undefined;
  let tables: ReadonlyMap<string, SqlTable> | undefined;
  const db = () => (database ??= open());
  const allTables = async () =>
    (tables ??= new Map(
      (await (await db()).tables()).map((t) => [t.steps.map((s) => nameText(Buffer.from(s))).join('/'), t]),
    ));
  const forget = () => {
    tables = undefined;
    byDay.clear();
  };
  const quoted = (on: SqlDatabase, { steps }: SqlTable) => quotedTable(on, steps);
  /** The table of a place as rows by day; `undefined` where it has no template. Looked at anew when all is listed anew. */
  const byDay = new Map<string, Promise<DatedRows>>();
  const dated = async (place: string) => {
    const template = rowTemplates.find((t) => t.table === place);
    const table = template && (await allTables()).get(place);
    if (!template || !table) return undefined;
    const rows = byDay.get(place) ?? DatedRows.open(await db(), table, template);
    byDay.set(place, rows);
    return rows;
  };
  const requireDated = async (place: string) => {
    const rows = await dated(place);
    if (!rows) throw new FixedItemError('its table has no template that tells its rows apart by their day');
    return rows;
  };
  const limit = ({ key }: SqlTable) => Math.min(most ?? Infinity, key.length === 0 ? KEYLESS : Infinity);

  /** Where groups begin; the first at the first row. */
  const groups = async (table: SqlTable): Promise<readonly string[]> => {
    const on = await db();
    const any = await on.query(`SELECT 1 FROM ${quoted(on, table)} LIMIT 1`, []);
    if (any.rows.length === 0) return [];
    const names = [FIRST];
    if (table.key.length === 0) return names;
    const columns = table.key.map((c) => on.quote(c));
    for (
      let rows = GROUP, after: readonly NonNullable<SqlValue>[] | undefined;
      rows < limit(table);
      rows += GROUP
    ) {
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
      forget();
      await allTables();
    },
    async list(place) {
      if (place === '') forget();
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
        const rows = await dated(place);
        return { items: rows ? await rows.names() : await groups(table), places: [] };
      } catch (error) {
        if (!(error instanceof ItemError) && (await db()).isLost(error)) throw error;
        return { ...NOTHING_LISTED, problem: `The table was not read: ${(error as Error).message}.` };
      }
    },
    async details(place, names) {
      const table = (await allTables()).get(place);
      if (!table) return [];
      const rows = await dated(place);
      if (rows) return rows.details(names);
      // They are there, and nobody can say which they are: that they are gone would be a lie.
      if (names.some(isDatedName)) throw new ItemError(OTHERWISE);
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
      const dayRows = await dated(place);
      if (dayRows) return { bytes: await dayRows.read(name), name: 'table.csv', title };
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
    replace: async (place, item, bytes) => (await requireDated(place)).replace(item, bytes),
    blank: async (place, _item, bytes) => (await dated(place))?.blank(bytes),
    remove: async (place, item) => (await requireDated(place)).remove(item),
    restore: async (place, item, bytes) => (await requireDated(place)).restore(item, bytes),
    async tables() {
      const listed: ListedTable[] = [];
      for (const [name, table] of await allTables()) {
        const columns = await (await db()).columns(table);
        listed.push({
          table: name,
          key: table.key,
          columns: columns.map((c) => ({ name: c.name, isDay: c.is === 'day' })),
        });
      }
      return listed;
    },
    async lookUp(name, column, values, most) {
      const table = (await allTables()).get(name);
      if (!table) throw new ItemError('the table is gone');
      const on = await db();
      const known = (await on.columns(table)).some((c) => c.name === column);
      if (!known || values.length === 0) return { columns: [], rows: [] };
      const found = await on.query(
        `SELECT * FROM ${quoted(on, table)} WHERE ${on.quote(column)} IN (${values.map(() => '?').join(', ')}) LIMIT ${most}`,
        values,
      );
      return { columns: found.columns, rows: found.rows.map((r) => r.map(cellText)) };
    },
    async close() {
      const opened = database;
      database = undefined;
      await opened?.then((d) => d.close()).catch(() => {});
    },
  };
}

/** Rows with this key, and those after it. */
function from(where: Where, columns: readonly string[], key: readonly NonNullable<SqlValue>[]): void {
  // Written out: databases make no use of an index for a comparison of rows.
  where.andAny(
    ...columns.map((c, i): [string, ...NonNullable<SqlValue>[]] => [
      `(${[...columns.slice(0, i).map((b) => `${b} = ?`), `${c} ${i === columns.length - 1 ? '>=' : '>'} ?`].join(' AND ')})`,
      ...key.slice(0, i + 1),
    ]),
  );
}

function keyValue(value: unknown): NonNullable<SqlValue> {
  if (typeof value === 'number' || Buffer.isBuffer(value)) return value;
  return value instanceof Date ? value.toISOString() : String(value);
}

function groupName(key: readonly NonNullable<SqlValue>[]): string {
  return `${BEHIND}${key.map((k) => nameText(Buffer.isBuffer(k) ? k : Buffer.from(String(k))).replaceAll(',', '\\x2c')).join(',')}`;
}

function partsOf(name: string): readonly string[] {
  return name.slice(BEHIND.length).split(',');
}

function groupKey(name: string, { key }: SqlTable): readonly NonNullable<SqlValue>[] {
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
