import { mainPart } from './main-part.ts';
import { UnstampableError, type CarriedLevel, type Marking } from './marking.ts';
import { Package, readLevel, readRelations, removeLevel, writeLevel, type Parts } from './package-parts.ts';
import { withLine, withoutLine, type PageLine } from './page-header-text.ts';
import {
  elementsOf,
  escapeXml,
  MADE,
  putInto,
  settled,
  spliced,
  unescaped,
  type Element,
} from './xml-text.ts';

/** Transitional and strict (ISO/IEC 29500-1 and -4). */
const S = [
  'http://schemas.openxmlformats.org/spreadsheetml/2006/main',
  'http://purl.oclc.org/ooxml/spreadsheetml/main',
];
const SHEET = /\/(?:worksheet|chartsheet|dialogsheet)$/;
/** What of a sheet stands behind its header and footer (CT_Worksheet, CT_Chartsheet). */
const BEHIND = new Set(
  'rowBreaks colBreaks customProperties cellWatches ignoredErrors smartTags drawing legacyDrawing legacyDrawingHF drawingHF picture oleObjects controls webPublishItems tableParts extLst'.split(
    ' ',
  ),
);
/** In the order in which they stand. */
const EDGES = ['oddHeader', 'oddFooter', 'evenHeader', 'evenFooter', 'firstHeader', 'firstFooter'] as const;
type Edge = (typeof EDGES)[number];

/**
 * Stamps a workbook (SpreadsheetML): the marking stands in the header and footer of every sheet as it is printed, of first and
 * even pages too where a sheet tells them apart; the level in its custom properties. A watermark is none of what a sheet has.
 * What was stamped before goes. Every other part stays byte for byte. Throws an UnstampableError.
 */
export function stampXlsx(parts: Parts, marking: Marking, level: CarriedLevel): Parts {
  const pack = new Package(unstampXlsx(parts));
  for (const name of sheetsOf(pack)) stampSheet(pack, name, marking);
  writeLevel(pack, level);
  return pack.done();
}

/** Takes off exactly what was stamped. Throws an UnstampableError. */
export function unstampXlsx(parts: Parts): Parts {
  const pack = new Package(parts);
  for (const name of sheetsOf(pack)) {
    const text = pack.text(name);
    const edges = headerFooter(elementsOf(text))?.children ?? [];
    const changed = edges.flatMap((e) => {
      const inside = text.slice(e.inner, e.innerEnd);
      const without = withoutLine(inside);
      return without === inside ? [] : [{ from: e.inner, to: e.innerEnd, put: without }];
    });
    if (changed.length > 0) pack.write(name, settled(settled(spliced(text, changed))));
  }
  removeLevel(pack);
  return pack.done();
}

export function readXlsxLevel(parts: Parts): CarriedLevel | undefined {
  return readLevel(new Package(parts));
}

function sheetsOf(pack: Package): readonly string[] {
  const main = mainPart(pack, { root: 'workbook', namespaces: S, words: 'workbook' });
  const sheets = readRelations(pack, main.name).filter((r) => SHEET.test(r.type) && pack.has(r.target));
  if (sheets.length === 0) throw new UnstampableError('damaged', 'It has no sheet in it.');
  return [...new Set(sheets.map((s) => s.target))];
}

function headerFooter(sheet: Element): Element | undefined {
  return sheet.children.find((c) => c.name === 'headerFooter');
}

function stampSheet(pack: Package, name: string, marking: Marking): void {
  const text = pack.text(name);
  const sheet = elementsOf(text);
  const own = headerFooter(sheet);
  const isOn = (what: string) => /^(?:1|true|on)$/.test(own?.attributes.get(what) ?? '');
  const wanted = EDGES.filter(
    (e) =>
      marking[/Header$/.test(e) ? 'header' : 'footer'] !== null &&
      (e.startsWith('odd') ||
        (e.startsWith('even') && isOn('differentOddEven')) ||
        (e.startsWith('first') && isOn('differentFirst'))),
  );
  if (wanted.length === 0) return;
  const line = (edge: Edge): PageLine => marking[/Header$/.test(edge) ? 'header' : 'footer'] as PageLine;
  if (!own) {
    const ns = sheet.namespace;
    const put = `<headerFooter xmlns="${ns}">${MADE}${wanted.map((e) => written(e, '', line(e), ns, name)).join('')}</headerFooter>`;
    const before = sheet.children.find((c) => BEHIND.has(c.name));
    const at = before ? { from: before.from, to: before.from, put } : putInto(text, sheet, put, 'last');
    pack.write(name, spliced(text, [at]));
    return;
  }
  const splices = wanted.flatMap((edge) => {
    const there = own.children.find((c) => c.name === edge);
    if (there) {
      const inside = unescaped(text.slice(there.inner, there.innerEnd));
      const put = withLine(inside, line(edge));
      if (put === undefined) throw noRoom(name);
      // What stood there stays as it was written; only what is put in is new.
      return [lineSplice(text, there, inside, put)];
    }
    const put = written(edge, '', line(edge), sheet.namespace, name);
    const next = own.children.find((c) => EDGES.indexOf(c.name as Edge) > EDGES.indexOf(edge));
    return [next ? { from: next.from, to: next.from, put } : putInto(text, own, put, 'last')];
  });
  pack.write(name, spliced(text, joined(splices)));
}

/** One new line in an element of text whose other characters keep their way of being written. */
function lineSplice(text: string, element: Element, before: string, after: string) {
  const is = [...after];
  const was = [...before];
  const at = was.findIndex((c, i) => is[i] !== c);
  const plain = at < 0 ? before.length : was.slice(0, at).join('').length;
  const put = after.slice(plain, plain + after.length - before.length);
  // As many characters of the written text as make up the plain ones before it.
  const raw = text.slice(element.inner, element.innerEnd);
  let [i, n] = [0, 0];
  while (n < plain) {
    const entity = /^&(?:#\d+|#x[0-9a-fA-F]+|\w+);/.exec(raw.slice(i))?.[0];
    const width = entity ? unescaped(entity).length : 1;
    i += entity ? entity.length : 1;
    n += width;
  }
  if (element.to === element.inner) return putInto(text, element, escapeXml(put), 'first');
  return { from: element.inner + i, to: element.inner + i, put: escapeXml(put) };
}

/** Several put into one element that has to be opened are one change of it. */
function joined(splices: readonly { from: number; to: number; put: string }[]) {
  const opened = splices.filter((s) => s.to > s.from);
  const [first, ...rest] = opened;
  if (!first || rest.length === 0) return splices;
  const inner = (put: string) => put.slice(put.indexOf('-->') + 3, put.lastIndexOf('</'));
  const end = first.put.lastIndexOf('</');
  const put = first.put.slice(0, end) + rest.map((r) => inner(r.put)).join('') + first.put.slice(end);
  return [...splices.filter((s) => s.to === s.from), { ...first, put }];
}

function written(edge: Edge, before: string, line: PageLine, ns: string, sheet: string): string {
  const text = withLine(before, line);
  if (text === undefined) throw noRoom(sheet);
  return `<${edge} xmlns="${ns}">${MADE}${escapeXml(text)}</${edge}>`;
}

function noRoom(sheet: string): UnstampableError {
  return new UnstampableError(
    'no room',
    `The header or footer of ${sheet.replace(/^.*\//, '')} has no room for the marking: it holds 255 characters.`,
  );
}
