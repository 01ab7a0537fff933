import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { TextBuilder, type Extracted, type Limits } from './extracted.ts';
import { extractJson } from './json.ts';
import { linkText } from './link-text.ts';

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
      else if (name === 'href' && /^(?:mailto|tel):/i.test(value)) aside(linkText(value), 'link');
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
