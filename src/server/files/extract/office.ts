import { partsOf, type Allowance } from './archive.ts';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { linkText } from './link-text.ts';
import { walkXml } from './xml.ts';
import { cellName } from './csv.ts';
import { SheetCells } from './sheet-cells.ts';

const number = (name: string) => Number(/(\d+)\.xml$/.exec(name)?.[1] ?? 0);
const inOrder = (names: Iterable<string>) =>
  [...names].sort((a, b) => number(a) - number(b) || (a < b ? -1 : 1));
const xmlOf = (parts: ReadonlyMap<string, Buffer>, name: string) => parts.get(name)?.toString('utf8') ?? '';

/** A table under way while XML is walked. */
class Table {
  readonly rows: string[][] = [];
  cell: string[] | undefined;
}

/** ECMA-376 WordprocessingML: body, headers, footers, notes and comments. */
export async function extractDocx(bytes: Buffer, limits: Limits, allowance: Allowance): Promise<Extracted> {
  const parts = await partsOf(
    bytes,
    allowance,
    (n) =>
      /^word\/(?:document|header\d*|footer\d*|footnotes|endnotes|comments)\.xml$/.test(n) ||
      isAboutDocument(n),
  );
  if (!parts.has('word/document.xml')) throw new UnreadableError('damaged', 'It has no document in it');
  const out = new TextBuilder(limits);
  const texts = inOrder(parts.keys()).filter((n) => !isAboutDocument(n) && n !== 'word/document.xml');
  for (const name of ['word/document.xml', ...texts]) {
    const role = /(header|footer|footnote|endnote|comment)/.exec(name)?.[1];
    const place: Record<string, string> = role ? { role } : {};
    walkParagraphs(xmlOf(parts, name), out, place, {
      text: /:t$/,
      deleted: 'w:delText',
      author: 'w:author',
      paragraph: /:p$/,
      row: 'w:tr',
      cell: 'w:tc',
      table: 'w:tbl',
      breaks: /^w:(?:br|cr)$/,
      tab: 'w:tab',
    });
  }
  readAboutDocument(parts, out);
  return out.done('DOCX');
}

/** Whether a part tells of the document, and not what is in it: its properties, and where its links lead. */
const isAboutDocument = (name: string) =>
  /^docProps\/(?:core|app)\.xml$|^(?:word|ppt|xl)\/.*_rels\/[^/]+\.rels$/.test(name);

const PROPERTY = /^(?:dc|cp):|^(?:Manager|Company|meta:initial-creator|meta:printed-by|meta:keyword)$/;
const BY_PEOPLE = /^(?:dc:creator|cp:lastModifiedBy|Manager|meta:initial-creator|meta:printed-by)$/;

/** A document’s properties, each under its name. */
function readProperties(xml: string, out: TextBuilder): void {
  let property = '';
  walkXml(xml, {
    open: (tag) => {
      property = PROPERTY.test(tag) ? tag : '';
    },
    text: (text) => {
      if (property === '' || text.trim() === '') return;
      const heading = BY_PEOPLE.test(property) ? 'author' : (property.split(':').at(-1) ?? '');
      out.add(text.trim(), { role: 'properties' }, { heading });
      out.gap('\n');
    },
    close: () => {
      property = '';
    },
  });
}

/** Its properties, and the addresses that it links to. */
function readAboutDocument(parts: ReadonlyMap<string, Buffer>, out: TextBuilder): void {
  for (const name of ['docProps/core.xml', 'docProps/app.xml']) readProperties(xmlOf(parts, name), out);
  const links = new Set<string>();
  for (const name of inOrder(parts.keys()))
    if (name.endsWith('.rels'))
      walkXml(xmlOf(parts, name), {
        open: (_, a) => a['TargetMode'] === 'External' && a['Target'] && links.add(a['Target']),
      });
  for (const link of links) {
    out.add(linkText(link), { role: 'link' });
    out.gap('\n');
  }
}

interface Names {
  readonly text: RegExp;
  /** What was struck out and is still there. */
  readonly deleted?: string;
  /** An attribute that says who wrote or changed something. */
  readonly author?: string;
  readonly paragraph: RegExp;
  readonly row: string;
  readonly cell: string;
  readonly table: string;
  readonly breaks: RegExp;
  readonly tab: string;
}

function walkParagraphs(
  xml: string,
  out: TextBuilder,
  place: Readonly<Record<string, string | number>>,
  names: Names,
): void {
  const tables: Table[] = [];
  const authors = new Set<string>();
  let inText = 0;
  let paragraph = '';
  let deleted = '';
  let isDeleted = false;
  /** Depth within what is written a second time, for readers of an older kind. */
  let inFallback = 0;
  const say = (text: string) => {
    const cell = tables.at(-1)?.cell;
    if (cell) cell.push(text);
    else paragraph += text;
  };
  const flush = () => {
    for (const [text, role] of [
      [paragraph, undefined],
      [deleted, 'deleted'],
    ] as const) {
      if (text === '') continue;
      out.add(text, role ? { ...place, role } : place);
      out.gap('\n');
    }
    paragraph = deleted = '';
  };
  walkXml(xml, {
    open: (name, a) => {
      if (name === 'mc:Fallback') inFallback++;
      if (inFallback > 0) return;
      const author = names.author && a[names.author];
      if (author) authors.add(author);
      if (name === names.deleted) isDeleted = true;
      else if (name === names.table) {
        if (tables.length === 0) flush();
        tables.push(new Table());
      } else if (name === names.row) tables.at(-1)?.rows.push([]);
      else if (name === names.cell) {
        const table = tables.at(-1);
        if (table) table.cell = [];
      } else if (names.breaks.test(name)) say('\n');
      else if (name === names.tab) say('\t');
      if (names.text.test(name)) inText++;
    },
    text: (text) => {
      if (isDeleted) deleted += text;
      else if (inText > 0 && inFallback === 0) say(text);
    },
    close: (name) => {
      if (name === 'mc:Fallback') {
        inFallback--;
        return;
      }
      if (inFallback > 0) return;
      if (name === names.deleted) isDeleted = false;
      if (names.text.test(name)) inText--;
      if (names.paragraph.test(name)) {
        if (tables.length > 0) say('\n');
        else flush();
      } else if (name === names.cell) {
        const table = tables.at(-1);
        if (table?.cell) {
          table.rows.at(-1)?.push(table.cell.join('').trim());
          table.cell = undefined;
        }
      } else if (name === names.table) {
        const table = tables.pop();
        if (!table) return;
        // A table in a cell is read into the cell.
        if (tables.length > 0) say(table.rows.map((r) => r.join('\t')).join('\n'));
        else
          out.table(table.rows, (row, column) => ({ ...place, row: row + 1, cell: cellName(column, row) }));
      }
    },
  });
  flush();
  for (const author of authors) {
    out.add(author, { ...place, role: 'author' }, { heading: 'author' });
    out.gap('\n');
  }
}

/** ECMA-376 PresentationML: slides and their notes, a slide a page. */
export async function extractPptx(bytes: Buffer, limits: Limits, allowance: Allowance): Promise<Extracted> {
  const parts = await partsOf(
    bytes,
    allowance,
    (n) =>
      /^ppt\/(?:slides\/slide|notesSlides\/notesSlide|comments\/comment)\d+\.xml$/.test(n) ||
      isAboutDocument(n),
  );
  const out = new TextBuilder(limits);
  for (const name of inOrder(parts.keys())) {
    if (isAboutDocument(name)) continue;
    walkParagraphs(
      xmlOf(parts, name),
      out,
      { page: number(name), ...(name.includes('notes') ? { role: 'notes' } : {}) },
      {
        text: /^(?:a:t|p:text)$/,
        paragraph: /^(?:a:p|p:text)$/,
        row: 'a:tr',
        cell: 'a:tc',
        table: 'a:tbl',
        breaks: /^a:br$/,
        tab: 'a:tab',
      },
    );
  }
  readAboutDocument(parts, out);
  return out.done('PPTX');
}

/** ECMA-376 SpreadsheetML: every sheet's cells as they are shown, as near as matters: dates as dates. */
export async function extractXlsx(bytes: Buffer, limits: Limits, allowance: Allowance): Promise<Extracted> {
  const parts = await partsOf(
    bytes,
    allowance,
    (n) =>
      /^xl\/(?:workbook\.xml|sharedStrings\.xml|styles\.xml|worksheets\/[^/]+\.xml|comments\d*\.xml|(?:comments|threadedComments)\/[^/]+\.xml)$/.test(
        n,
      ) || isAboutDocument(n),
  );
  if (!parts.has('xl/workbook.xml')) throw new UnreadableError('damaged', 'It has no workbook in it');
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
  const out = new TextBuilder(limits);
  for (const sheet of sheets) {
    addSheet(out, sheet.name, sheetCells(xmlOf(parts, sheet.part), strings, styles));
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

function sharedStrings(xml: string): string[] {
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
interface CellStyles {
  readonly dates: ReadonlySet<number>;
  /** Such as `000000-0000`. */
  readonly zeros: ReadonlyMap<number, string>;
}

function cellStyles(xml: string): CellStyles {
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
function zeroed(value: number, mask: string): string {
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

function sheetCells(xml: string, strings: readonly string[], styles: CellStyles): SheetCells {
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
function addSheet(out: TextBuilder, sheet: string, cells: SheetCells): void {
  const place = (row: number, column: number) => ({ sheet, row: row + 1, cell: cellName(column, row) });
  const laid = cells.laidOut();
  if (laid) return out.table(laid.rows, (r, c) => place(laid.rowAt(r), laid.columnAt(c)));
  for (const { row, column, text } of cells.inOrder()) {
    out.add(text, place(row, column));
    out.gap('\n');
  }
}

/** A number as its cell shows it. */
function shownAs(value: string, style: number, { dates, zeros }: CellStyles): string {
  const number = Number(value);
  if (dates.has(style)) return dateOf(number);
  const mask = zeros.get(style);
  if (mask !== undefined) return zeroed(number, mask);
  return /e/i.test(value) && Number.isSafeInteger(number) ? String(number) : value;
}

function columnOf(letters: string): number {
  let n = 0;
  for (const c of letters) n = n * 26 + c.charCodeAt(0) - 64;
  return n - 1;
}

/** ECMA-376 part 1, 18.17.4: days since the end of 1899, with a leap day in 1900 that never was. */
function dateOf(serial: number): string {
  if (!Number.isFinite(serial) || serial < 1 || serial > 2_958_466) return String(serial);
  return new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000).toISOString().slice(0, 10);
}

/** OpenDocument 1.3: text, tables, sheets and slides, headers and footers. */
export async function extractOpenDocument(
  bytes: Buffer,
  limits: Limits,
  allowance: Allowance,
): Promise<Extracted> {
  const parts = await partsOf(bytes, allowance, (n) =>
    /^(?:content|styles|meta)\.xml$|^META-INF\/manifest\.xml$/.test(n),
  );
  if (/encryption-data/.test(xmlOf(parts, 'META-INF/manifest.xml')))
    throw new UnreadableError('encrypted', 'It is encrypted');
  if (!parts.has('content.xml')) throw new UnreadableError('damaged', 'It has no content in it');
  const out = new TextBuilder(limits);
  for (const name of ['content.xml', 'styles.xml']) {
    const xml = xmlOf(parts, name);
    if (xml === '') continue;
    let sheet: string | undefined;
    let rows: string[][] | undefined;
    let cell: string[] | undefined;
    let repeat = 1;
    let paragraph = '';
    let depth = 0;
    const role = name === 'content.xml' ? {} : { role: 'header or footer' };
    const say = (text: string) => (cell ? cell.push(text) : (paragraph += text));
    walkXml(xml, {
      open: (tag, a) => {
        if (tag === 'table:table' && !rows) {
          sheet = a['table:name'];
          rows = [];
        } else if (tag === 'table:table-row') rows?.push([]);
        else if (tag === 'table:table-cell') {
          cell = [];
          repeat = Math.min(64, Number(a['table:number-columns-repeated'] ?? 1));
          if (a['office:date-value']) cell.push('');
        } else if (/^text:(?:p|h)$|^dc:/.test(tag)) depth++;
        else if (tag === 'text:tab') say('\t');
        else if (tag === 'text:line-break') say('\n');
        else if (tag === 'text:s') say(' '.repeat(Math.min(100, Number(a['text:c'] ?? 1))));
      },
      text: (text) => depth > 0 && say(text),
      close: (tag) => {
        if (/^text:(?:p|h)$|^dc:/.test(tag)) {
          depth--;
          if (cell) cell.push('\n');
          else if (depth === 0 && paragraph !== '') {
            out.add(paragraph, role);
            out.gap('\n');
            paragraph = '';
          }
        } else if (tag === 'table:table-cell' && cell) {
          const text = cell.join('').trim();
          const row = rows?.at(-1);
          for (let i = 0; i < (text === '' ? Math.min(repeat, 16) : repeat); i++) row?.push(text);
          cell = undefined;
        } else if (tag === 'table:table' && rows) {
          const whole = rows.map((r) => r.slice(0, r.findLastIndex((c) => c !== '') + 1));
          out.table(whole, (row, column) => ({
            ...role,
            ...(sheet ? { sheet } : {}),
            row: row + 1,
            cell: cellName(column, row),
          }));
          rows = undefined;
        }
      },
    });
  }
  readProperties(xmlOf(parts, 'meta.xml'), out);
  return out.done('OpenDocument');
}
