import { likeText } from './like-text.ts';

type Value = string | number | Buffer;

/** The conditions of a list, each with its values. */
export class Where {
  readonly #parts: string[] = [];
  readonly #params: Value[] = [];

  /** Adds a condition; none where a value of it is missing or empty. */
  and(sql: string, ...values: readonly (Value | undefined)[]): this {
    if (values.some((v) => v === undefined || v === '')) return this;
    this.#parts.push(sql);
    this.#params.push(...(values as readonly Value[]));
    return this;
  }

  /** That one of the columns holds a text; nothing where it is empty. */
  holding(columns: readonly string[], text: string): this {
    if (text === '') return this;
    const like = likeText(text);
    return this.and(`(${columns.map((c) => `${c} LIKE ?`).join(' OR ')})`, ...columns.map(() => like));
  }

  /** Adds that one of these holds, each a condition with its values. */
  andAny(...any: readonly (readonly [string, ...Value[]])[]): this {
    this.#parts.push(`(${any.map(([sql]) => sql).join(' OR ')})`);
    this.#params.push(...any.flatMap(([, ...values]) => values));
    return this;
  }

  /** That a column is one of these; nothing where there is no list, and no row where it is empty. */
  among(column: string, values: readonly Value[] | undefined): this {
    if (values === undefined) return this;
    this.#parts.push(values.length === 0 ? '1 = 0' : `${column} IN (${values.map(() => '?').join(', ')})`);
    this.#params.push(...values);
    return this;
  }

  /** What comes after a row with this key, in a list that goes by these columns; nothing without a key. */
  after(columns: readonly string[], order: 'up' | 'down', key: readonly Value[] | undefined): this {
    if (key === undefined) return this;
    const beyond = order === 'up' ? '>' : '<';
    // Written out: MariaDB makes no use of an index for a comparison of rows.
    const steps = columns.map(
      (c, i) => `(${[...columns.slice(0, i).map((b) => `${b} = ?`), `${c} ${beyond} ?`].join(' AND ')})`,
    );
    this.#parts.push(`(${steps.join(' OR ')})`);
    this.#params.push(...columns.flatMap((_, i) => key.slice(0, i + 1)));
    return this;
  }

  get sql(): string {
    return this.#parts.length > 0 ? this.#parts.join(' AND ') : '1 = 1';
  }

  get params(): readonly Value[] {
    return this.#params;
  }
}
