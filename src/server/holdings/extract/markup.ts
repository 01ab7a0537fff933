import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { SaxesParser } from 'saxes';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { fieldName } from './field-name.ts';
import { extractJson } from './json.ts';
import { LabelledValue } from './labelled-value.ts';

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
  const labels = labelsIn(document);
  let fresh = true;
  /** What the text that is being read is called. */
  let called: string | undefined;
  let term = '';
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
      out.add(fresh ? text.trimStart() : text, {}, { heading: called });
      fresh = false;
      return;
    }
    if (node.nodeName === '#comment') {
      aside((node as DefaultTreeAdapterTypes.CommentNode).data, 'comment');
      return;
    }
    const element = node as Element;
    if (/^application\/(?:ld\+)?json$/i.test(attribute(element, 'type'))) {
      line();
      out.part('script', extractJson(scriptOf(element), limits, false));
      return;
    }
    if (SILENT.has(node.nodeName)) return;
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
    const around = called;
    if (node.nodeName === 'dt') term = textOf(node).replace(/\s+/g, ' ').trim();
    if (node.nodeName === 'dd' && term !== '') called = term;
    else if (node.nodeName === 'textarea') called = nameOf(element, labels);
    for (const child of 'childNodes' in node ? node.childNodes : []) walk(child);
    called = around;
    for (const { name, value } of element.attrs ?? []) {
      if (
        SPOKEN.has(name) &&
        !(node.nodeName === 'meta' && /viewport|charset|robots/.test(attribute(element, 'name')))
      )
        aside(
          value,
          'attribute',
          name === 'value' ? nameOf(element, labels) : attribute(element, 'name') || name,
        );
      else if (name === 'href' && /^(?:mailto|tel):/i.test(value))
        aside(unescaped(value.replace(/^(?:mailto|tel):/i, '').split('?')[0] ?? ''), 'link');
    }
    if (block) line();
  };
  walk(document);
  return out.done('HTML');
}

/** By the id of a control: what its label says. */
function labelsIn(document: Node): ReadonlyMap<string, string> {
  const labels = new Map<string, string>();
  const walk = (node: Node): void => {
    const of = node.nodeName === 'label' ? attribute(node as Element, 'for') : '';
    if (of !== '') labels.set(of, textOf(node).replace(/\s+/g, ' ').trim());
    for (const child of 'childNodes' in node ? node.childNodes : []) walk(child);
  };
  walk(document);
  return labels;
}

/** What a control is called: its label, its name, or what it is. */
const nameOf = (e: Element, labels: ReadonlyMap<string, string>): string =>
  labels.get(attribute(e, 'id')) ||
  attribute(e, 'aria-label') ||
  attribute(e, 'name') ||
  attribute(e, 'placeholder') ||
  'value';

const scriptOf = (e: Element): string =>
  e.childNodes.map((c) => ('value' in c ? (c.value as string) : '')).join('');

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
  const elements: XmlElement[] = [];
  walkXml(xml, {
    open: (name, attributes, line) => {
      const parent = elements.at(-1);
      const of = local(name);
      const count = (parent?.children.get(of) ?? 0) + 1;
      parent?.children.set(of, count);
      const element: XmlElement = {
        name: of,
        path: `${parent?.path ?? ''}/${of}${count > 1 ? `[${count}]` : ''}`,
        record: out.records++,
        children: new Map(),
        labelled: new LabelledValue(out.segments),
        label: GENERIC.test(of) ? labelOf(attributes) : undefined,
      };
      elements.push(element);
      for (const [key, value] of Object.entries(attributes)) {
        if (key.startsWith('xmlns')) continue;
        const isLabel = value === element.label;
        const heading = isLabel
          ? 'label'
          : (/^value$/i.test(key) && element.label) || fieldName(local(key), of);
        out.add(
          value,
          { role: 'attribute', line, path: `${element.path}/@${key}` },
          { heading, record: element.record },
        );
        out.gap('\n');
      }
    },
    text: (text, line) => {
      const value = text.trim();
      const element = elements.at(-1);
      if (value === '' || !element) return;
      // Fields that stand side by side belong to the element around them.
      const around = elements.at(-2) ?? element;
      const within = elements.length > 2 ? around.name : undefined;
      const heading =
        element.label ?? around.labelled.labelOf(element.name) ?? fieldName(element.name, within);
      const place = { line: line - newlines(text.trimStart()), path: element.path };
      out.add(value, place, { heading, record: around.record });
      around.labelled.add(element.name, value);
      out.gap('\n');
    },
    close: () => {
      elements.pop();
    },
    comment: (text, line) => {
      out.add(text.trim(), { role: 'comment', line: line - newlines(text.trimStart()) });
      out.gap('\n');
    },
  });
  return out.done('XML');
}

interface XmlElement {
  readonly name: string;
  readonly path: string;
  readonly record: number;
  /** How many there were so far, by name. */
  readonly children: Map<string, number>;
  readonly labelled: LabelledValue;
  /** What its attributes say it holds, where its own name says nothing. */
  readonly label: string | undefined;
}

const GENERIC =
  /^(?:field|property|item|entry|value|attribute|param|parameter|data|column|col|cell|element|option|meta|pair|datum|string|simplefield|input)$/i;

function labelOf(attributes: Readonly<Record<string, string>>): string | undefined {
  for (const name of ['label', 'name', 'key', 'field', 'column', 'title', 'id'])
    if (/\p{L}/u.test(attributes[name] ?? '')) return attributes[name];
  return undefined;
}

const newlines = (text: string) => text.split('\n').length - 1;

const local = (name: string) => name.slice(name.indexOf(':') + 1);

export interface XmlHandler {
  /** Lines are those where what is told ends, from 1. */
  open?(name: string, attributes: Readonly<Record<string, string>>, line: number): void;
  text?(text: string, line: number): void;
  close?(name: string): void;
  comment?(text: string, line: number): void;
}

/** Walks XML without entities of its own making; throws an UnreadableError where it is broken. */
export function walkXml(xml: string, handler: XmlHandler): void {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw new UnreadableError('damaged', `Its XML is broken: ${error.message}`);
  });
  parser.on('opentag', (tag) =>
    handler.open?.(tag.name, tag.attributes as Record<string, string>, parser.line),
  );
  parser.on('text', (text) => handler.text?.(text, parser.line));
  parser.on('cdata', (text) => handler.text?.(text, parser.line));
  parser.on('comment', (text) => handler.comment?.(text, parser.line));
  parser.on('closetag', (tag) => handler.close?.(tag.name));
  if (xml !== '') parser.write(xml).close();
}
