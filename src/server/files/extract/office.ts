import { partsOf, type Allowance } from './archive.ts';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { walkXml } from './xml.ts';
import { cellName } from './csv.ts';
import {
  inOrder,
  isAboutDocument,
  number,
  readAboutDocument,
  readProperties,
  walkParagraphs,
  xmlOf,
} from './office-parts.ts';

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
