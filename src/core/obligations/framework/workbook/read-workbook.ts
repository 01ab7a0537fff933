import { FrameworkFile } from '../framework-file.ts';
import type { Around } from '../around.ts';
import { fileFaults } from '../framework-faults.ts';
import {
  FRAMEWORK_FIELDS,
  FRAMEWORK_SHEET,
  PARTS_OF_FILE,
  README_SHEET,
  SHEETS,
  type Column,
  type Sheet,
} from './layout.ts';

/** Where something of a workbook stands: a row from 1, as people count, and a column from 0; null for all of it. */
export interface CellPlace {
  readonly sheet: string;
  readonly row: number | null;
  readonly column: number | null;
}

export interface WorkbookFault extends CellPlace {
  readonly words: string;
}

/** `Controls F12`, `Controls row 12`, `Controls`. */
export function placeWords({ sheet, row, column }: CellPlace): string {
  if (row === null) return sheet;
  return column === null ? `${sheet} row ${row}` : `${sheet} ${columnLetters(column)}${row}`;
}

/** `A` for 0, `AB` for 27. */
export function columnLetters(column: number): string {
  const rest = Math.floor(column / 26);
  return `${rest > 0 ? columnLetters(rest - 1) : ''}${String.fromCharCode(65 + (column % 26))}`;
}

export type ReadWorkbook =
  | { readonly file: FrameworkFile; readonly faults: readonly [] }
  | { readonly file: null; readonly faults: readonly WorkbookFault[] };

/** Reads a framework from a workbook of our layout; where anything is wrong, all that is, each at its cell. */
export function readWorkbook(sheets: readonly Sheet[], around: Around): ReadWorkbook {
  const reading = new Reading(sheets);
  const candidate = reading.candidate();
  const parsed = FrameworkFile.safeParse(candidate);
  for (const { path, code, message } of parsed.error?.issues ?? [])
    reading.wrongAt(path as Path, code === 'custom' ? message : undefined, message);
  // What it names is looked at all the same: the fields that matter for it are there, if only as text.
  for (const { path, message } of fileFaults(candidate as unknown as FrameworkFile, around))
    reading.namedAt(path, message);
  return parsed.success && reading.faults.length === 0
    ? { file: parsed.data, faults: [] }
    : { file: null, faults: reading.faults.sort(byPlace) };
}

type Path = readonly (string | number)[];

interface Cell extends CellPlace {
  readonly text: string;
  readonly of: Column;
}

/** What a workbook holds, and where it stood. */
class Reading {
  readonly faults: WorkbookFault[] = [];
  readonly #cells = new Map<string, Cell>();
  /** Where the sheet or row of a path stands, for what has no cell. */
  readonly #places = new Map<string, CellPlace>();
  readonly #sheets = new Map<string, Sheet>();
  /** Cells that hold nothing that can be taken. */
  readonly #untaken = new Set<string>();

  constructor(sheets: readonly Sheet[]) {
    const known = [FRAMEWORK_SHEET, ...PARTS_OF_FILE.map((p) => SHEETS[p].name)];
    for (const sheet of sheets) {
      const name = known.find((k) => k.toLowerCase() === sheet.name.trim().toLowerCase());
      if (name) this.#sheets.set(name, sheet);
      else if (sheet.name.trim().toLowerCase() !== README_SHEET.toLowerCase() && !isEmpty(sheet))
        this.#fault(whole(sheet.name), `There is no sheet of this name: there are ${known.join(', ')}.`);
    }
    if (!this.#sheets.has(FRAMEWORK_SHEET))
      this.#fault(whole(FRAMEWORK_SHEET), `There is no sheet “${FRAMEWORK_SHEET}”.`);
  }

  candidate(): Record<string, unknown> {
    const file: Record<string, unknown> = { format: 'yare-framework-1', ...this.#readFields() };
    for (const part of PARTS_OF_FILE) {
      const rows = this.#readPart(part);
      // Where it takes nothing and brings no measures, the file does not speak of them.
      if (rows.length > 0 || part === 'families' || part === 'controls') file[part] = rows;
    }
    return file;
  }

  /** What a field does not allow; `own` is said instead of what would do, `otherwise` where it has no cell. */
  wrongAt(path: Path, own: string | undefined, otherwise: string): void {
    const cell = this.#cellOf(path);
    if (!cell) return this.namedAt(path, otherwise);
    const { text, of } = cell;
    const takes = `It takes ${of.would}.`;
    const words = text === '' ? `It is empty. ${takes}` : `“${short(text)}” cannot be taken. ${takes}`;
    this.#faultOf(cell, own ?? words, true);
  }

  /** What is wrong beyond the field. */
  namedAt(path: Path, message: string): void {
    const cell = this.#cellOf(path);
    if (cell) return this.#faultOf(cell, message);
    for (let n = path.length; n > 0; n--) {
      const place = this.#places.get(path.slice(0, n).join('/'));
      if (place) return this.#faultOf(place, message);
    }
    if (this.#sheets.has(FRAMEWORK_SHEET)) this.#faultOf(whole(FRAMEWORK_SHEET), message);
  }

  /** The cell of a path, or of the nearest thing above it that is one cell. */
  #cellOf(path: Path): Cell | undefined {
    for (let n = path.length; n > 0; n--) {
      const cell = this.#cells.get(path.slice(0, n).join('/'));
      if (cell) return cell;
    }
    // A threshold without its figure, or the other way round, is said of the figure.
    if (path.at(-1) === 'test') return this.#cells.get([...path, 'figure'].join('/'));
    return path[0] === 'extends' ? this.#cells.get('extends/framework') : undefined;
  }

  #readFields(): Record<string, unknown> {
    const sheet = this.#sheets.get(FRAMEWORK_SHEET);
    if (!sheet) return {};
    const found = new Map<Column, Cell>();
    sheet.rows.forEach((cells, i) => {
      const [label = '', value = ''] = cells.map(plain);
      const at = { sheet: sheet.name, row: i + 1 };
      if (label === '' && value === '') return;
      if (label.toLowerCase() === 'field') return;
      const of = FRAMEWORK_FIELDS.find((f) => f.heading.toLowerCase() === label.toLowerCase());
      if (!of) {
        const known = FRAMEWORK_FIELDS.map((f) => f.heading).join(', ');
        return this.#fault({ ...at, column: 0 }, `There is no field “${short(label)}”: there are ${known}.`);
      }
      if (found.has(of))
        return this.#fault({ ...at, column: 0 }, `“${of.heading}” stands further up already.`);
      found.set(of, { ...at, column: 1, text: value, of });
    });
    const out: Record<string, unknown> = {};
    for (const of of FRAMEWORK_FIELDS) {
      const cell = found.get(of);
      if (cell) this.#keep(of.path, cell, out, of.path);
      else if (of.needed) {
        this.#fault(whole(sheet.name), `There is no field “${of.heading}”. It takes ${of.would}.`);
        const nowhere = { sheet: sheet.name, row: null, column: FRAMEWORK_FIELDS.indexOf(of) };
        this.#cells.set(of.path.join('/'), { ...nowhere, text: '', of });
        this.#untaken.add(key(nowhere));
      } else if (of.form === 'ids') put(out, of.path, []);
    }
    return out;
  }

  #readPart(part: keyof typeof SHEETS): readonly Record<string, unknown>[] {
    const { columns } = SHEETS[part];
    const sheet = this.#sheets.get(SHEETS[part].name);
    this.#places.set(part, whole(sheet?.name ?? SHEETS[part].name));
    if (!sheet || isEmpty(sheet)) return [];
    const head = sheet.rows.findIndex((r) => r.some((c) => plain(c) !== ''));
    const at = this.#headings(sheet, head, columns);
    const rows: Record<string, unknown>[] = [];
    sheet.rows.forEach((cells, i) => {
      if (i <= head || cells.every((c) => plain(c) === '')) return;
      const row: Record<string, unknown> = {};
      const path = [part, rows.length];
      this.#places.set(path.join('/'), { sheet: sheet.name, row: i + 1, column: null });
      cells.forEach((c, column) => {
        if (plain(c) !== '' && !at.known.has(column))
          this.#fault({ sheet: sheet.name, row: i + 1, column }, 'It stands under no heading.');
      });
      for (const of of columns) {
        const column = at.columns.get(of);
        const text = column === undefined ? '' : plain(cells[column] ?? '');
        const cell = { sheet: sheet.name, row: i + 1, column: column ?? null, text, of };
        // Of a column that is missing only that is said.
        if (column === undefined && of.needed) this.#untaken.add(key(cell));
        this.#keep([...path, ...of.path], cell, row, of.path);
      }
      rows.push(row);
    });
    return rows;
  }

  #headings(sheet: Sheet, head: number, columns: readonly Column[]) {
    const found = new Map<Column, number>();
    const known = new Set<number>();
    const place = (column: number) => ({ sheet: sheet.name, row: head + 1, column });
    (sheet.rows[head] ?? []).forEach((cell, i) => {
      const heading = plain(cell).toLowerCase();
      if (heading === '') return;
      known.add(i);
      const of = columns.find((c) => c.heading.toLowerCase() === heading);
      if (!of) {
        const all = columns.map((c) => c.heading).join(', ');
        this.#fault(place(i), `There is no column “${short(plain(cell))}”: there are ${all}.`);
      } else if (found.has(of)) this.#fault(place(i), `“${of.heading}” stands further left already.`);
      else found.set(of, i);
    });
    for (const of of columns)
      if (of.needed && !found.has(of))
        this.#fault({ ...place(0), column: null }, `There is no column “${of.heading}”.`);
    return { columns: found, known };
  }

  #keep(path: Path, cell: Cell, into: Record<string, unknown>, at: readonly string[]): void {
    this.#cells.set(path.join('/'), cell);
    const value = valueOf(cell);
    if (value !== undefined) put(into, at, value);
  }

  /** One fault of what a cell holds is told, and none of what follows from it. */
  #faultOf(place: CellPlace, words: string, untaken = false): void {
    if (this.#untaken.has(key(place))) return;
    if (untaken) this.#untaken.add(key(place));
    if (!this.faults.some((f) => key(f) === key(place) && f.words === words)) this.#fault(place, words);
  }

  #fault({ sheet, row, column }: CellPlace, words: string): void {
    this.faults.push({ sheet, row, column, words });
  }
}

const whole = (sheet: string): CellPlace => ({ sheet, row: null, column: null });
const key = ({ sheet, row, column }: CellPlace) => `${sheet}\0${row}\0${column}`;
const isEmpty = (sheet: Sheet) => sheet.rows.every((r) => r.every((c) => plain(c) === ''));
const plain = (text: string) => text.replace(/\r\n?/g, '\n').trim();
const short = (text: string) => (text.length > 60 ? `${text.slice(0, 57)}…` : text);

/** `undefined` for what is left empty and may be. */
function valueOf({ text, of }: Cell): unknown {
  if (text === '') return of.form === 'ids' || of.form === 'lines' ? [] : of.needed ? '' : undefined;
  switch (of.form) {
    case 'text':
      return text;
    case 'number':
      return /^-?\d+(?:\.\d+)?$/.test(text) ? Number(text) : text;
    case 'yes':
      if (/^yes$/i.test(text)) return true;
      // A share is said or left out.
      return /^no$/i.test(text) ? (of.needed ? false : undefined) : text;
    case 'ids':
      return text.split(/[\s,;]+/).filter((id) => id !== '');
    case 'lines':
      return text
        .replace(/\n {2}/g, '\0')
        .split('\n')
        .map((l) => l.replaceAll('\0', '\n').trim())
        .filter((l) => l !== '');
  }
}

function put(into: Record<string, unknown>, [first = '', ...rest]: readonly string[], value: unknown): void {
  if (rest.length === 0) into[first] = value;
  else put((into[first] ??= {}) as Record<string, unknown>, rest, value);
}

function byPlace(a: WorkbookFault, b: WorkbookFault): number {
  return (
    (a.sheet < b.sheet ? -1 : a.sheet > b.sheet ? 1 : 0) ||
    (a.row ?? 0) - (b.row ?? 0) ||
    (a.column ?? -1) - (b.column ?? -1)
  );
}
