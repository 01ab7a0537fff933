import { TextBuilder } from './extracted.ts';
import { linkText } from './link-text.ts';
import { walkXml } from './xml.ts';
import { cellName } from './csv.ts';

/** A table under way while XML is walked. */
class Table {
  readonly rows: string[][] = [];
  cell: string[] | undefined;
}

export const number = (name: string) => Number(/(\d+)\.xml$/.exec(name)?.[1] ?? 0);
export const inOrder = (names: Iterable<string>) =>
  [...names].sort((a, b) => number(a) - number(b) || (a < b ? -1 : 1));
export const xmlOf = (parts: ReadonlyMap<string, Buffer>, name: string) =>
  parts.get(name)?.toString('utf8') ?? '';

/** Whether a part tells of the document, and not what is in it: its properties, and where its links lead. */
export const isAboutDocument = (name: string) =>
  /^docProps\/(?:core|app)\.xml$|^(?:word|ppt|xl)\/.*_rels\/[^/]+\.rels$/.test(name);

export const PROPERTY = /^(?:dc|cp):|^(?:Manager|Company|meta:initial-creator|meta:printed-by|meta:keyword)$/;
export const BY_PEOPLE = /^(?:dc:creator|cp:lastModifiedBy|Manager|meta:initial-creator|meta:printed-by)$/;

/** A document’s properties, each under its name. */
export function readProperties(xml: string, out: TextBuilder): void {
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
export function readAboutDocument(parts: ReadonlyMap<string, Buffer>, out: TextBuilder): void {
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

export interface Names {
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

export function walkParagraphs(
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
