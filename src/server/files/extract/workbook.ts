import { partsOf, type Allowance } from './archive.ts';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { walkXml } from './xml.ts';
import { cellName } from './csv.ts';
import { SheetCells } from './sheet-cells.ts';
import { inOrder, isAboutDocument, readAboutDocument, walkParagraphs, xmlOf } from './office-parts.ts';

/** ECMA-376 SpreadsheetML: every sheet's cells as they are shown, as near as matters: dates as dates. */
export async function extractXlsx(bytes: Buffer, limits: Limits, allowance: Allowance): Promise<Extracted> {
  const parts = await xlsxParts(
    bytes,
    allowance,
    (n) =>
      /^xl\/(?:comments\d*\.xml|(?:comments|threadedComments)\/[^/]+\.xml)$/.test(n) || isAboutDocument(n),
  );
  const out = new TextBuilder(limits);
  for (const sheet of sheetsIn(parts)) {
    addSheet(out, sheet.name, sheet.cells());
    out.gap('\n');
  }
  for (const name of inOrder(parts.keys()))
    if (/comments/i.test(name) && !isAboutDocument(name))
      walkParagraphs(
        xmlOf(parts, name),
        out,
        { role: 'comment' },
        {
          text: /^(?:t|text)$/,
          paragraph: /^(?:comment|threadedComment)$/,
          row: '',
          cell: '',
          table: '-',
          breaks: /^-$/,
          tab: '-',
        },
      );
  readAboutDocument(parts, out);
  return out.done('XLSX');
}

/** The parts of a workbook that hold its sheets, and those that `more` names. Throws an UnreadableError. */
export async function xlsxParts(
  bytes: Buffer,
  allowance: Allowance,
  more: (name: string) => boolean = () => false,
  checked = false,
): Promise<ReadonlyMap<string, Buffer>> {
  const parts = await partsOf(
    bytes,
    allowance,
    (n) =>
      /^xl\/(?:workbook\.xml|_rels\/workbook\.xml\.rels|sharedStrings\.xml|styles\.xml|worksheets\/[^/]+\.xml)$/.test(
        n,
      ) || more(n),
    checked,
  );
  if (!parts.has('xl/workbook.xml')) throw new UnreadableError('damaged', 'It has no workbook in it');
  return parts;
}

/** Its sheets in their order, each read when it is asked for. */
export function sheetsIn(
  parts: ReadonlyMap<string, Buffer>,
): readonly { readonly name: string; readonly part: string; readonly cells: () => SheetCells }[] {
  const strings = sharedStrings(xmlOf(parts, 'xl/sharedStrings.xml'));
  const styles = cellStyles(xmlOf(parts, 'xl/styles.xml'));
  const targets = new Map<string, string>();
  walkXml(xmlOf(parts, 'xl/_rels/workbook.xml.rels'), {
    open: (_, a) => a['Id'] && targets.set(a['Id'], (a['Target'] ?? '').replace(/^\/?(?:xl\/)?/, 'xl/')),
  });
  const sheets: { name: string; part: string }[] = [];
  walkXml(xmlOf(parts, 'xl/workbook.xml'), {
    open: (name, a) => {
      if (!name.endsWith('sheet') || a['name'] === undefined) return;
      const part = targets.get(a['r:id'] ?? '') ?? `xl/worksheets/sheet${sheets.length + 1}.xml`;
      // However often a workbook names it, a sheet is one.
      if (!sheets.some((s) => s.part === part)) sheets.push({ name: a['name'], part });
    },
  });
  return sheets.map(({ name, part }) => ({
    ...{ name, part },
    cells: () => sheetCells(xmlOf(parts, part), strings, styles),
  }));
}

export function sharedStrings(xml: string): string[] {
  const strings: string[] = [];
  let text = '';
  let inText = false;
  walkXml(xml, {
    open: (name) => {
      if (name === 'si') text = '';
      else if (name === 't') inText = true;
    },
    text: (t) => inText && (text += t),
    close: (name) => {
      if (name === 't') inText = false;
      else if (name === 'si') strings.push(text);
    },
  });
  return strings;
}

/** How numbers are shown, by cell style: as a date, or with zeros in front and signs between. */
export interface CellStyles {
  readonly dates: ReadonlySet<number>;
  /** Such as `000000-0000`. */
  readonly zeros: ReadonlyMap<number, string>;
}

export function cellStyles(xml: string): CellStyles {
  const dates = new Set<number>();
  const zeros = new Map<number, string>();
  const formats = new Map<number, string>();
  let inXfs = false;
  let index = 0;
  walkXml(xml, {
    open: (name, a) => {
      if (name === 'numFmt') formats.set(Number(a['numFmtId']), a['formatCode'] ?? '');
      else if (name === 'cellXfs') inXfs = true;
      else if (name === 'xf' && inXfs) {
        const id = Number(a['numFmtId'] ?? 0);
        const format = formats.get(id) ?? '';
        const code = format.replace(/"[^"]*"|\[[^\]]*\]/g, '');
        if ((id >= 14 && id <= 17) || id === 22 || /[dy]/i.test(code)) dates.add(index);
        const mask = (format.split(';')[0] as string).replace(/\[[^\]]*\]|["\\]/g, '');
        if (/^[0#][0# .()/+-]*0$/.test(mask) && /0{3}/.test(mask) && !/\.0+$/.test(mask))
          zeros.set(index, mask);
        index++;
      }
    },
    close: (name) => {
      if (name === 'cellXfs') inXfs = false;
    },
  });
  return { dates, zeros };
}

/** A number’s digits from the right into the zeros of a format. */
export function zeroed(value: number, mask: string): string {
  const digits = String(value);
  if (!Number.isSafeInteger(value) || value < 0) return digits;
  let left = digits.length;
  let shown = '';
  for (let i = mask.length - 1; i >= 0; i--) {
    const sign = mask[i] as string;
    if (sign === '0') shown = (left > 0 ? digits[--left] : '0') + shown;
    else if (sign === '#') shown = (left > 0 ? (digits[--left] as string) : '') + shown;
    else shown = sign + shown;
  }
  return digits.slice(0, left) + shown;
}

export function sheetCells(xml: string, strings: readonly string[], styles: CellStyles): SheetCells {
  const cells = new SheetCells();
  let at: readonly [number, number] = [0, 0];
  let type = '';
  let style = 0;
  let value = '';
  let reading = false;
  let rowNumber = -1;
  let column = -1;
  walkXml(xml, {
    open: (name, a) => {
      if (name === 'row') {
        rowNumber = a['r'] ? Number(a['r']) - 1 : rowNumber + 1;
        column = -1;
      } else if (name === 'c') {
        const ref = /^([A-Z]+)(\d+)$/.exec(a['r'] ?? '');
        column = ref ? columnOf(ref[1] as string) : column + 1;
        at = [ref ? Number(ref[2]) - 1 : rowNumber, column];
        type = a['t'] ?? '';
        style = Number(a['s'] ?? 0);
        value = '';
      } else if (name === 'v' || name === 't') reading = true;
    },
    text: (t) => reading && (value += t),
    close: (name) => {
      if (name === 'v' || name === 't') reading = false;
      else if (name === 'c' && value !== '') {
        const [row, col] = at;
        const shared = type === 's' ? (strings[Number(value)] ?? '') : undefined;
        cells.set(row, col, shared ?? (type === '' || type === 'n' ? shownAs(value, style, styles) : value));
      }
    },
  });
  return cells;
}

/** A sheet as a table; where its cells are strewn about, each by itself. */
export function addSheet(out: TextBuilder, sheet: string, cells: SheetCells): void {
  const place = (row: number, column: number) => ({ sheet, row: row + 1, cell: cellName(column, row) });
  const laid = cells.laidOut();
  if (laid) return out.table(laid.rows, (r, c) => place(laid.rowAt(r), laid.columnAt(c)));
  for (const { row, column, text } of cells.inOrder()) {
    out.add(text, place(row, column));
    out.gap('\n');
  }
}

/** A number as its cell shows it. */
export function shownAs(value: string, style: number, { dates, zeros }: CellStyles): string {
  const number = Number(value);
  if (dates.has(style)) return dateOf(number);
  const mask = zeros.get(style);
  if (mask !== undefined) return zeroed(number, mask);
  return /e/i.test(value) && Number.isSafeInteger(number) ? String(number) : value;
}

export function columnOf(letters: string): number {
  let n = 0;
  for (const c of letters) n = n * 26 + c.charCodeAt(0) - 64;
  return n - 1;
}

/** ECMA-376 part 1, 18.17.4: days since the end of 1899, with a leap day in 1900 that never was. */
export function dateOf(serial: number): string {
  if (!Number.isFinite(serial) || serial < 1 || serial > 2_958_466) return String(serial);
  return new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000).toISOString().slice(0, 10);
}
