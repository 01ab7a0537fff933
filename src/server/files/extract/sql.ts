import type { Place, Segment } from '../../../core/text/segment.ts';
import type { Cutter, Piece } from './csv.ts';
import { allowLength, type Extracted, type Limits } from './extracted.ts';

const NAME = '(?:[`"\\[]?[\\p{L}\\p{N}_$]+[`"\\]]?)';
const TABLE = `(${NAME}(?:\\s*\\.\\s*${NAME}){0,2})`;
const STATEMENT = new RegExp(
  `(?<![\\p{L}\\p{N}_])(?:(INSERT(?:\\s+(?:IGNORE|OR\\s+\\w+))?\\s+INTO|REPLACE\\s+INTO|CREATE(?:\\s+TEMPORARY)?\\s+TABLE(?:\\s+IF\\s+NOT\\s+EXISTS)?|COPY)\\s+${TABLE}|(UPDATE)\\s+${TABLE}\\s+SET)(?![\\p{L}\\p{N}_])`,
  'giu',
);
const COLUMNS = new RegExp(`\\s*\\(\\s*(${NAME}(?:\\s*,\\s*${NAME})*)\\s*\\)`, 'uy');
const VALUES = /\s*VALUES?\s*(?=\()/iuy;
const FROM_HERE = /\s*FROM\s+stdin[^;\n]*;[^\n]*\n/iuy;
const ASSIGNED = new RegExp(`\\s*(${NAME})\\s*=\\s*`, 'uy');
const COMMENT = /--[^\n]*\n?|\/\*[^]{0,10000}?\*\//uy;
const PREFIX = /(?:N|E|B|X|_\w+\s*)(?=')/iuy;
/** Parts of a table's definition that are no columns. */
const NO_COLUMN =
  /^(?:PRIMARY|KEY|UNIQUE|CONSTRAINT|INDEX|FOREIGN|CHECK|FULLTEXT|SPATIAL|EXCLUDE|LIKE|PERIOD)$/i;

/** Whether a text has statements that fill tables. */
export const hasInserts = (text: string): boolean =>
  /^[ \t]*(?:(?:INSERT|REPLACE)\s+(?:IGNORE\s+)?INTO\s+\S+[^;]{0,4000}?\bVALUES?\s*\(|COPY\s+\S+\s*\([^)]{1,4000}\)\s+FROM\s+stdin)/im.test(
    text.slice(0, 64_000),
  );

/** The text stays as it is; every value that is written into a table knows its column. */
export function extractSql(text: string, limits: Limits): Extracted {
  allowLength(text.length, limits);
  const { segments } = new SqlCutter().next(text, true);
  return { text, segments, problems: [], kind: 'SQL' };
}

interface Filling {
  readonly table: string;
  readonly columns: readonly string[];
  rows: number;
}

/** A statement longer than this is not waited for. */
const LONGEST = 16e6;
/** As is a value longer than this. */
const LONGEST_VALUE = 4e6;
const MOST_BROKEN = 100;

/** Statements of SQL that fill tables (ISO/IEC 9075-2, and COPY as dumps have it), row by row. */
export class SqlCutter implements Cutter {
  readonly #columns = new Map<string, readonly string[]>();
  /** What the rows that come next are of. */
  #rows: Filling | undefined;
  #copied: Filling | undefined;
  #rest = '';
  #records = 0;
  #broken = 0;
  #line = 1;
  #text = '';
  #segments: Segment[] = [];
  #counted = 0;

  next(more: string, isLast: boolean): Piece {
    this.#text = this.#rest + more;
    this.#segments = [];
    this.#counted = 0;
    const end = this.#read(isLast || this.#text.length > LONGEST);
    this.#lineAt(end);
    this.#rest = this.#text.slice(end);
    return { text: this.#text.slice(0, end), segments: this.#segments };
  }

  /** Reads what is whole; how far that is. */
  #read(isLast: boolean): number {
    const text = this.#text;
    let at = 0;
    while (at < text.length) {
      const filling = this.#copied ?? this.#rows;
      let next;
      if (this.#copied) next = this.#copiedRow(at, isLast);
      else next = this.#rows ? this.#row(at, isLast) : this.#statement(at, isLast);
      if (next !== undefined) at = next;
      else if (!isLast) return filling ? at : Math.max(at, lastStatement(text));
      else if (!filling || ++this.#broken > MOST_BROKEN) return text.length;
      else {
        // What is broken is passed over, and what comes behind it read.
        this.#rows = this.#copied = undefined;
        at++;
      }
    }
    return text.length;
  }

  /** Reads the next statement up to its first row; where it ends, `undefined` where there is none. */
  #statement(from: number, isLast: boolean): number | undefined {
    STATEMENT.lastIndex = from;
    const found = STATEMENT.exec(this.#text);
    if (!found) return undefined;
    const [whole, verb = found[3] ?? '', table = found[4] ?? ''] = found;
    const end = found.index + whole.length;
    const name = bare(table.split('.').at(-1) ?? '');
    const close = this.#text.indexOf(';', end);
    const isWhole = isLast || (close >= 0 && this.#text.includes('\n', close));
    const isFilled = /^(?:INSERT|REPLACE|COPY)/i.test(verb);
    if (!isFilled && !isWhole) return undefined;
    if (/^CREATE/i.test(verb)) return this.#definition(end, name);
    if (/^UPDATE/i.test(verb)) return this.#assignments(end, name);
    COLUMNS.lastIndex = end;
    const listed = COLUMNS.exec(this.#text);
    const behind = listed ? COLUMNS.lastIndex : end;
    const columns = listed?.[1]?.split(',').map(bare) ?? this.#columns.get(name.toLowerCase()) ?? [];
    const isCopy = /^COPY/i.test(verb);
    const opening = isCopy ? FROM_HERE : VALUES;
    opening.lastIndex = behind;
    if (!opening.test(this.#text)) return isWhole ? end : undefined;
    const filling = { table: name, columns, rows: 0 };
    if (isCopy) this.#copied = filling;
    else this.#rows = filling;
    return opening.lastIndex;
  }

  #definition(from: number, name: string): number {
    const open = this.#space(from);
    if (this.#text[open] !== '(') return from;
    const columns: string[] = [];
    let at = open + 1;
    for (;;) {
      const start = this.#space(at);
      const word = /^[`"[]?([\p{L}\p{N}_$]+)/u.exec(this.#text.slice(start, start + 130))?.[1] ?? '';
      if (word !== '' && !NO_COLUMN.test(word)) columns.push(word);
      const end = this.#expression(start);
      if (end === undefined) return from;
      if (this.#text[end] !== ',') {
        this.#columns.set(name.toLowerCase(), columns);
        return end;
      }
      at = end + 1;
    }
  }

  #assignments(from: number, table: string): number {
    const record = this.#records++;
    let at = from;
    for (;;) {
      ASSIGNED.lastIndex = at;
      const column = ASSIGNED.exec(this.#text)?.[1];
      if (column === undefined) return at;
      const end = this.#value(ASSIGNED.lastIndex, { heading: bare(column), record, path: table });
      if (end === undefined) return at;
      at = this.#space(end);
      if (this.#text[at] !== ',') return at;
      at++;
    }
  }

  /** Reads a row in brackets, and what leads to the next; `undefined` where it is not whole. */
  #row(from: number, isLast: boolean): number | undefined {
    const rows = this.#rows as Filling;
    let at = this.#space(from);
    if (at >= this.#text.length) return undefined;
    if (this.#text[at] !== '(') {
      this.#rows = undefined;
      return Math.max(at, from + 1);
    }
    at++;
    const record = this.#records++;
    const path = `${rows.table}[${++rows.rows}]`;
    const before = { segments: this.#segments.length, line: this.#line, counted: this.#counted };
    const undo = () => {
      this.#segments.length = before.segments;
      this.#line = before.line;
      this.#counted = before.counted;
      this.#records--;
      rows.rows--;
      return undefined;
    };
    for (let column = 0; ; column++) {
      const end = this.#value(this.#space(at), { heading: rows.columns[column] ?? '', record, path });
      if (end === undefined) return undo();
      at = end + 1;
      if (this.#text[end] === ')') break;
    }
    const behind = this.#space(at);
    if (this.#text[behind] === ',') return behind + 1;
    if (behind >= this.#text.length && !isLast) return undo();
    this.#rows = undefined;
    return at;
  }

  /** A row of COPY: cells between tabs, up to the end of the line. */
  #copiedRow(from: number, isLast: boolean): number | undefined {
    const copied = this.#copied as Filling;
    const newline = this.#text.indexOf('\n', from);
    if (newline < 0 && !isLast) return undefined;
    const end = newline < 0 ? this.#text.length : newline;
    const line = this.#text.slice(from, end).replace(/\r$/, '');
    if (line === '\\.') this.#copied = undefined;
    else {
      const record = this.#records++;
      const path = `${copied.table}[${++copied.rows}]`;
      let at = from;
      for (const [column, cell] of line.split('\t').entries()) {
        if (cell !== '\\N')
          this.#add(at, at + cell.length, { heading: copied.columns[column] ?? '', record, path });
        at += cell.length + 1;
      }
    }
    return end + 1;
  }

  /** Reads a literal or an expression; where the sign behind it stands. */
  #value(from: number, of: ValueOf): number | undefined {
    const text = this.#text;
    PREFIX.lastIndex = from;
    const open = PREFIX.test(text) ? PREFIX.lastIndex : from;
    if (text[open] === "'" || text[open] === '"') {
      const close = closing(text, open);
      if (close === undefined) return undefined;
      this.#add(open + 1, close, of);
      return this.#expression(close + 1);
    }
    const end = this.#expression(from);
    if (end === undefined) return undefined;
    const value = text.slice(from, end).trimEnd();
    if (/^[-+]?\d[\d.]*$/.test(value)) this.#add(from, from + value.length, of);
    return end;
  }

  /** Where a comma, a closing bracket or a semicolon stands that is not within brackets or quotes. */
  #expression(from: number): number | undefined {
    const text = this.#text;
    let depth = 0;
    for (let i = from; i < text.length && i < from + LONGEST_VALUE; i++) {
      const c = text[i];
      if (c === "'" || c === '"' || c === '`') {
        const close = closing(text, i);
        if (close === undefined) return undefined;
        i = close;
      } else if (c === '(') depth++;
      else if (c === ')' && depth > 0) depth--;
      else if (depth === 0 && (c === ',' || c === ')' || c === ';')) return i;
    }
    return undefined;
  }

  /** Where something stands that is neither space nor a comment. */
  #space(from: number): number {
    const text = this.#text;
    let at = from;
    for (;;) {
      while (at < text.length && text.charCodeAt(at) <= 32) at++;
      if (text[at] !== '-' && text[at] !== '/') return at;
      COMMENT.lastIndex = at;
      if (!COMMENT.test(text)) return at;
      at = COMMENT.lastIndex;
    }
  }

  #add(start: number, end: number, { heading, record, path }: ValueOf): void {
    if (end <= start) return;
    const place: Place = { line: this.#lineAt(start), path };
    this.#segments.push(
      heading === '' ? { start, end, place, record } : { start, end, place, heading, record },
    );
  }

  /** The line of an offset; they rise. */
  #lineAt(offset: number): number {
    const text = this.#text;
    for (let n = text.indexOf('\n', this.#counted); n >= 0 && n < offset; n = text.indexOf('\n', n + 1)) {
      this.#line++;
      this.#counted = n + 1;
    }
    return this.#line;
  }
}

interface ValueOf {
  readonly heading: string;
  readonly record: number;
  readonly path: string;
}

/** Where the quote that opens at `at` closes: doubled, or behind a backslash, it does not. */
function closing(text: string, at: number): number | undefined {
  const quote = text[at];
  for (let i = at + 1; i < text.length && i < at + LONGEST_VALUE; i++) {
    if (text[i] === '\\') i++;
    else if (text[i] === quote) {
      if (text[i + 1] !== quote) return i;
      i++;
    }
  }
  return undefined;
}

/** Behind the last statement that ends with its line. */
const lastStatement = (text: string): number =>
  Math.max(text.lastIndexOf(';\n'), text.lastIndexOf(';\r\n')) + 1;

const bare = (name: string): string => name.trim().replace(/^[`"[]|[`"\]]$/g, '');
