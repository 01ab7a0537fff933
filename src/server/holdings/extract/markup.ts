import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { SaxesParser } from 'saxes';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';

type Node = DefaultTreeAdapterTypes.Node;
type Element = DefaultTreeAdapterTypes.Element;

const BLOCK = new Set(
  'address article aside blockquote br caption dd div dl dt fieldset figure footer form h1 h2 h3 h4 h5 h6 header hr li main nav ol option p pre section select table td th tr ul title body'.split(
    ' ',
  ),
);
const SILENT = new Set(['script', 'style', 'template', 'noscript']);
const SPOKEN = new Set(['alt', 'title', 'value', 'placeholder', 'content', 'aria-label', 'summary']);

/** What a reader sees, and what stands in attributes, addresses and comments besides. */
export function extractHtml(html: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  const document = parse(html);
  let fresh = true;
  const line = () => {
    if (!fresh) out.gap('\n');
    fresh = true;
  };
  const aside = (text: string, role: string, heading?: string) => {
    if (!/[\p{L}\p{N}]/u.test(text)) return;
    line();
    out.add(text, { role }, { heading });
    out.gap('\n');
  };
  const walk = (node: Node): void => {
    if (node.nodeName === '#text') {
      const text = (node as DefaultTreeAdapterTypes.TextNode).value.replace(/[ \t\r\n]+/g, ' ');
      if (text === '' || (fresh && text === ' ')) return;
      out.add(fresh ? text.trimStart() : text, {});
      fresh = false;
      return;
    }
    if (node.nodeName === '#comment') {
      aside((node as DefaultTreeAdapterTypes.CommentNode).data, 'comment');
      return;
    }
    if (SILENT.has(node.nodeName)) return;
    const element = node as Element;
    if (element.nodeName === 'table') {
      line();
      const rows = rowsOf(element);
      if (rows.length > 0) {
        out.table(rows, (row) => ({ row: row + 1, role: 'table' }));
        return;
      }
    }
    const block = BLOCK.has(node.nodeName);
    if (block) line();
    for (const child of 'childNodes' in node ? node.childNodes : []) walk(child);
    for (const { name, value } of element.attrs ?? []) {
      if (
        SPOKEN.has(name) &&
        !(node.nodeName === 'meta' && /viewport|charset|robots/.test(attribute(element, 'name')))
      )
        aside(value, 'attribute', attribute(element, 'name') || name);
      else if (name === 'href' && /^(?:mailto|tel):/i.test(value))
        aside(unescaped(value.replace(/^(?:mailto|tel):/i, '').split('?')[0] ?? ''), 'link');
    }
    if (block) line();
  };
  walk(document);
  return out.done('HTML');
}

const attribute = (e: Element, name: string) => e.attrs?.find((a) => a.name === name)?.value ?? '';

function unescaped(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

function rowsOf(table: Element): string[][] {
  const rows: string[][] = [];
  const walk = (node: Node, row: string[] | undefined): void => {
    let into = row;
    if (node.nodeName === 'table' && node !== table) return;
    if (node.nodeName === 'tr') rows.push((into = []));
    if ((node.nodeName === 'td' || node.nodeName === 'th') && into) {
      into.push(textOf(node).replace(/\s+/g, ' ').trim());
      return;
    }
    for (const child of 'childNodes' in node ? node.childNodes : []) walk(child, into);
  };
  walk(table, undefined);
  return rows;
}

function textOf(node: Node): string {
  if (node.nodeName === '#text') return (node as DefaultTreeAdapterTypes.TextNode).value;
  if (SILENT.has(node.nodeName)) return '';
  const own = node.nodeName === 'input' ? attribute(node as Element, 'value') : '';
  return (
    own + ('childNodes' in node ? node.childNodes.map(textOf).join(BLOCK.has(node.nodeName) ? ' ' : '') : '')
  );
}

/** Element text and attributes, each under its name. */
export function extractXml(xml: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  const names: string[] = [];
  const records: number[] = [];
  walkXml(xml, {
    open: (name, attributes) => {
      names.push(name);
      records.push(out.records++);
      for (const [key, value] of Object.entries(attributes)) {
        if (key.startsWith('xmlns')) continue;
        out.add(value, { role: 'attribute' }, { heading: local(key), record: records.at(-1) });
        out.gap('\n');
      }
    },
    text: (text) => {
      const bare = text.trim();
      if (bare === '') return;
      // Fields that stand side by side belong to the element around them.
      out.add(bare, {}, { heading: local(names.at(-1) ?? ''), record: records.at(-2) ?? records.at(-1) });
      out.gap('\n');
    },
    close: () => {
      names.pop();
      records.pop();
    },
    comment: (text) => {
      out.add(text.trim(), { role: 'comment' });
      out.gap('\n');
    },
  });
  return out.done('XML');
}

const local = (name: string) => name.slice(name.indexOf(':') + 1);

export interface XmlHandler {
  open?(name: string, attributes: Readonly<Record<string, string>>): void;
  text?(text: string): void;
  close?(name: string): void;
  comment?(text: string): void;
}

/** Walks XML without entities of its own making; throws an UnreadableError where it is broken. */
export function walkXml(xml: string, handler: XmlHandler): void {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw new UnreadableError('damaged', `Its XML is broken: ${error.message}`);
  });
  parser.on('opentag', (tag) => handler.open?.(tag.name, tag.attributes as Record<string, string>));
  parser.on('text', (text) => handler.text?.(text));
  parser.on('cdata', (text) => handler.text?.(text));
  parser.on('comment', (text) => handler.comment?.(text));
  parser.on('closetag', (tag) => handler.close?.(tag.name));
  parser.write(xml).close();
}
