import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import {
  daysOfRows,
  isDatedName,
  lastOfRows,
  rowsName,
  WITHOUT_DAY,
  type RowTemplate,
} from '../../../core/holdings/sources/row-template.ts';
import { Where } from '../../store/where.ts';
import { FixedItemError, ItemError, MOST_BYTES, type ListedItem, type Removed } from './connector.ts';
import {
  quotedTable,
  type SqlColumn,
  type SqlDatabase,
  type SqlTable,
  type SqlValue,
} from './sql-database.ts';

type Query = SqlDatabase['query'];
type Cell = string | null;

/** Nobody can say then which rows an item was. */
export const OTHERWISE = 'the rows of its table are told apart in another way by now';

/** Rows that are written in one statement. */
const AT_ONCE = 200;

/**
 * A table by a column of days: the rows of a period are an item, whose bytes are their CSV. Nothing is lost in it: text is
 * quoted, a cell without a value is empty, bytes are `\x` and hexadecimal.
 */
export class DatedRows {
  private constructor(
    readonly on: SqlDatabase,
    readonly table: SqlTable,
    readonly template: RowTemplate,
    readonly columns: readonly SqlColumn[],
  ) {}

  /** Throws an Error that says what of the template does not fit the table. */
  static async open(on: SqlDatabase, table: SqlTable, template: RowTemplate): Promise<DatedRows> {
    const columns = await on.columns(table);
    const named = (name: string) => columns.find((c) => c.name === name);
    const day = named(template.day);
    if (!day) throw new ItemError(`it has no column “${template.day}”, which its template names`);
    if (day.is !== 'day') throw new ItemError(`its column “${template.day}” holds no days`);
    const shape = columns.find((c) => c.is === 'shape');
    if (shape) throw new ItemError(`its column “${shape.name}” could not be put back as it was`);
    const missing = template.blank.find((b) => !named(b));
    if (missing !== undefined)
      throw new ItemError(`it has no column “${missing}”, which its template would empty`);
    return new DatedRows(on, table, template, columns);
  }

  async names(): Promise<readonly string[]> {
    const { rows } = await this.on.query(
      `SELECT DISTINCT ${this.#period} FROM ${this.#quoted} ORDER BY 1`,
      [],
    );
    return rows.map(([period]) => (period === null ? WITHOUT_DAY : rowsName(String(period))));
  }

  async details(names: readonly string[]): Promise<readonly ListedItem[]> {
    const isKnown = (n: string) => n === WITHOUT_DAY || daysOfRows(n, this.template.by) !== undefined;
    if (names.some((n) => isDatedName(n) && !isKnown(n))) throw new ItemError(OTHERWISE);
    const known = names.filter(isKnown);
    if (known.length === 0) return [];
    const { rows } = await this.on.query(
      `SELECT ${this.#period}, ${this.#counted} FROM ${this.#quoted} WHERE ${known
        .map((n) => `(${this.#whereOf(n).sql})`)
        .join(' OR ')} GROUP BY 1`,
      known.flatMap((n) => this.#whereOf(n).params),
    );
    const found = new Map(
      rows.map(([period, count, sum]) => [
        period === null ? WITHOUT_DAY : rowsName(String(period)),
        { count: Number(count), version: versionOf(count, sum) },
      ]),
    );
    const each = this.table.bytes / Math.max(1, this.table.rows);
    return known.flatMap((name): ListedItem[] => {
      const of = found.get(name);
      if (!of) return [];
      const days = daysOfRows(name, this.template.by);
      // Its last day wherever the organisation is, but for the outermost zones, where it counts as kept a day longer.
      const at = days ? `${lastOfRows(days)}T12:00:00.000Z` : null;
      return [
        {
          name,
          title: `${this.table.steps.at(-1)}, ${name}`,
          size: Math.round(each * of.count),
          ...{ created: at, changed: at, owner: '', version: of.version },
        },
      ];
    });
  }

  async read(name: string): Promise<Buffer> {
    return this.#asCsv(await this.#rowsOf(this.on.query.bind(this.on), name));
  }

  /** With the columns emptied that hold what is personal; `undefined` where the template names none. */
  blank(bytes: Uint8Array): Uint8Array | undefined {
    const { blank } = this.template;
    if (blank.length === 0) return undefined;
    const { columns, rows } = this.#fromCsv(bytes);
    const empty = columns.map((c) => (blank.includes(c.name) ? (c.nullable ? null : '') : undefined));
    return this.#asCsv(rows.map((row) => row.map((cell, i) => (empty[i] === undefined ? cell : empty[i]))));
  }

  async remove({ name, version }: ListedItem): Promise<Removed> {
    const dependents = await this.on.dependents(this.table);
    const count = await this.on.write(async (query) => {
      const n = await this.#requireSame(query, name, version);
      const where = this.#whereOf(name);
      for (const { table, quoted, columns } of dependents) {
        const joined = columns
          .map(([own, refers]) => `d.${this.on.quote(own)} = t.${this.on.quote(refers)}`)
          .join(' AND ');
        const { rows } = await query(
          `SELECT 1 FROM ${quoted} d JOIN (SELECT * FROM ${this.#quoted} WHERE ${where.sql}) t ON ${joined} LIMIT 1`,
          where.params,
        );
        if (rows.length > 0)
          throw new ItemError(
            `the database would take or change rows of “${table}” with them, which nobody agreed to`,
          );
      }
      const { changed } = await query(`DELETE FROM ${this.#quoted} WHERE ${where.sql}`, where.params);
      if (changed !== n) throw new ItemError('other rows came while they were taken away');
      return n;
    });
    return { method: `${count} ${count === 1 ? 'row' : 'rows'} deleted`, mark: null };
  }

  async restore({ name }: ListedItem, bytes: Uint8Array): Promise<ListedItem> {
    const { columns, rows } = this.#fromCsv(bytes);
    const kept = columns.flatMap((c, i) => (c.made ? [] : [i]));
    await this.on.write(async (query) => {
      if ((await this.#rowsOf(query, name)).length > 0)
        throw new ItemError('other rows of that time came meanwhile');
      const into = `INSERT INTO ${this.#quoted} (${kept.map((i) => this.on.quote(columns[i]?.name ?? '')).join(', ')})${this.on.overriding} VALUES `;
      for (let from = 0; from < rows.length; from += AT_ONCE) {
        const some = rows.slice(from, from + AT_ONCE);
        const one = `(${kept.map(() => '?').join(', ')})`;
        await query(
          into + some.map(() => one).join(', '),
          some.flatMap((row) => kept.map((i) => valueOf(columns[i], row[i] ?? null))),
        );
      }
    });
    return this.#listed(name);
  }

  /** Writes the cells that differ, row by row; rows are known by their key. */
  async replace({ name, version }: ListedItem, bytes: Uint8Array): Promise<ListedItem> {
    const { key } = this.table;
    if (key.length === 0) throw new FixedItemError('its table has no key by which a row could be changed');
    const { columns, rows } = this.#fromCsv(bytes);
    const at = key.map((k) => columns.findIndex((c) => c.name === k));
    await this.on.write(async (query) => {
      await this.#requireSame(query, name, version);
      const before = this.#fromCsv(this.#asCsv(await this.#rowsOf(query, name))).rows;
      if (before.length !== rows.length || at.some((k) => before.some((b, i) => b[k] !== rows[i]?.[k])))
        throw new ItemError('its rows are others by now');
      for (const [i, row] of rows.entries()) {
        const differing = columns.flatMap((c, k) => (row[k] === before[i]?.[k] || c.made ? [] : [k]));
        if (differing.length === 0) continue;
        const named = (k: number) => `${this.on.quote(columns[k]?.name ?? '')} = ?`;
        await query(
          `UPDATE ${this.#quoted} SET ${differing.map(named).join(', ')} WHERE ${at.map(named).join(' AND ')}`,
          [...differing, ...at].map((k) => valueOf(columns[k], row[k] ?? null)),
        );
      }
    });
    return this.#listed(name);
  }

  async #listed(name: string): Promise<ListedItem> {
    const [listed] = await this.details([name]);
    if (!listed) throw new ItemError('it is not there after it was written');
    return listed;
  }

  /** How many rows there are, once they can be changed by nobody else. */
  async #requireSame(query: Query, name: string, version: string): Promise<number> {
    const where = this.#whereOf(name);
    await query(`SELECT 1 FROM ${this.#quoted} WHERE ${where.sql} FOR UPDATE`, where.params);
    const { rows } = await query(
      `SELECT ${this.#counted} FROM ${this.#quoted} WHERE ${where.sql}`,
      where.params,
    );
    const [count = 0, sum] = rows[0] ?? [];
    if (versionOf(count, sum) !== version) throw new ItemError('somebody changed its rows meanwhile');
    return Number(count);
  }

  async #rowsOf(query: Query, name: string): Promise<readonly (readonly unknown[])[]> {
    const where = this.#whereOf(name);
    const order = this.table.key.length > 0 ? this.table.key : this.columns.map((c) => c.name);
    const { rows } = await query(
      `SELECT ${this.#all} FROM ${this.#quoted} WHERE ${where.sql} ORDER BY ${order.map((c) => this.on.quote(c)).join(', ')}`,
      where.params,
    );
    return rows;
  }

  #asCsv(rows: readonly (readonly unknown[])[]): Buffer {
    const text = stringify(
      [
        this.columns.map((c) => c.name),
        ...rows.map((row) => row.map((value, i) => cellOf(this.columns[i], value))),
      ],
      { quoted_string: true },
    );
    if (text.length > MOST_BYTES) throw new ItemError(`it is larger than ${Math.round(MOST_BYTES / 1e6)} MB`);
    return Buffer.from(text);
  }

  /** Of a table that has the same columns still, in any order. */
  #fromCsv(bytes: Uint8Array): { readonly columns: readonly SqlColumn[]; readonly rows: readonly Cell[][] } {
    const [names = [], ...rows] = parse(Buffer.from(bytes), {
      cast: (value, { quoting }) => (value === '' && !quoting ? null : value),
    }) as unknown as Cell[][];
    const columns = names.map((name) => this.columns.find((c) => c.name === name));
    if (columns.some((c) => c === undefined)) throw new ItemError('the columns of its table were changed');
    return { columns: columns as readonly SqlColumn[], rows };
  }

  #whereOf(name: string): Where {
    const day = this.on.quote(this.template.day);
    if (name === WITHOUT_DAY) return new Where().and(`${day} IS NULL`);
    const days = daysOfRows(name, this.template.by);
    if (!days) throw new ItemError(OTHERWISE);
    return new Where().and(`${day} >= ?`, days.from).and(`${day} < ?`, days.to);
  }

  get #quoted(): string {
    return quotedTable(this.on, this.table.steps);
  }
  get #period(): string {
    return this.on.period(this.on.quote(this.template.day), this.template.by);
  }
  get #all(): string {
    return this.columns.map((c) => this.on.quote(c.name)).join(', ');
  }
  get #counted(): string {
    return `COUNT(*), SUM(${this.on.digest(this.columns.map((c) => this.on.quote(c.name)))})`;
  }
}

function versionOf(count: unknown, sum: unknown): string {
  return `${String(count)}.${sum === null || sum === undefined ? 0 : String(sum)}`;
}

function cellOf(column: SqlColumn | undefined, value: unknown): Cell {
  if (value === null || value === undefined) return null;
  if (Buffer.isBuffer(value))
    return column?.is === 'bytes' ? `\\x${value.toString('hex')}` : value.toString('utf8');
  if (value instanceof Date) return value.toISOString();
  return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number);
}

function valueOf(column: SqlColumn | undefined, cell: Cell): SqlValue {
  if (cell === null || column?.is !== 'bytes') return cell;
  return Buffer.from(cell.slice(2), 'hex');
}
