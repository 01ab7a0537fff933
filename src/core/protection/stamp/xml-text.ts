import { SaxesParser, type SaxesTagNS } from 'saxes';
import { UnstampableError } from './marking.ts';

/** An element of a text, with where it stands in it. */
export interface Element {
  readonly name: string;
  readonly namespace: string;
  /** By local name; of those that are in no namespace, or in its own. */
  readonly attributes: ReadonlyMap<string, string>;
  readonly parent: Element | undefined;
  readonly children: Element[];
  /** Where its first tag begins, and where that ends. */
  readonly from: number;
  readonly inner: number;
  /** Where its last tag begins, and where that ends; of one without content both are `inner`. */
  innerEnd: number;
  to: number;
}

/**
 * The elements of an XML text, each with its place, so that the text can be changed without writing any other of it anew.
 * Throws an UnstampableError where it is none; entities of its own are not resolved.
 */
export function elementsOf(text: string): Element {
  const parser = new SaxesParser({ xmlns: true, position: false });
  let root: Element | undefined;
  let open: Element | undefined;
  let failed: Error | undefined;
  parser.on('error', (error) => (failed ??= error));
  parser.on('doctype', () => (failed ??= new Error('It declares types of its own.')));
  parser.on('opentag', (tag: SaxesTagNS) => {
    const to = parser.position;
    const attributes = new Map<string, string>();
    for (const a of Object.values(tag.attributes))
      if (a.uri === '' || a.uri === tag.uri || a.prefix !== 'xmlns') attributes.set(a.local, a.value);
    const element: Element = {
      name: tag.local,
      namespace: tag.uri,
      attributes,
      parent: open,
      children: [],
      from: text.lastIndexOf('<', to - 1),
      inner: to,
      innerEnd: to,
      to,
    };
    open?.children.push(element);
    root ??= element;
    open = element;
  });
  parser.on('closetag', (tag: SaxesTagNS) => {
    const element = open as Element;
    open = element.parent;
    if (tag.isSelfClosing) return;
    element.to = parser.position;
    element.innerEnd = text.lastIndexOf('</', element.to - 1);
  });
  try {
    parser.write(text).close();
  } catch (error) {
    failed ??= error as Error;
  }
  if (failed || !root)
    throw new UnstampableError('damaged', `A part of it is no XML: ${failed?.message ?? 'it is empty'}`);
  return root;
}

/** Every element below one, and itself, in the order of the text. */
export function* everyElement(of: Element): Generator<Element> {
  yield of;
  for (const child of of.children) yield* everyElement(child);
}

/** A change of a text: what stands from one place to another becomes something else. */
export interface Splice {
  readonly from: number;
  readonly to: number;
  readonly put: string;
}

/** Makes changes that do not overlap; of two at one place, the first given stands first. */
export function spliced(text: string, splices: readonly Splice[]): string {
  const sorted = splices
    .map((s, i) => ({ ...s, i }))
    // What is put in before something comes before what takes the place of that.
    .sort((a, b) => a.from - b.from || Number(a.to > a.from) - Number(b.to > b.from) || a.i - b.i);
  let out = '';
  let at = 0;
  for (const { from, to, put } of sorted) {
    if (from < at) throw new RangeError('Two changes of a text overlap.');
    out += text.slice(at, from) + put;
    at = to;
  }
  return out + text.slice(at);
}

/** Stands in an element that had no content before something was put into it, and in one that was made for that. */
const OPENED = '<!--yare: opened-->';
export const MADE = '<!--yare: made-->';

/** Puts something into an element, before or behind what is in it; one without content is opened. */
export function putInto(text: string, of: Element, put: string, where: 'first' | 'last'): Splice {
  if (of.to > of.inner) {
    const at = where === 'first' ? of.inner : of.innerEnd;
    return { from: at, to: at, put };
  }
  const open = text.slice(of.from, of.to).replace(/\/>$/, '>');
  const [tag = ''] = /^[^\s/>]+/.exec(text.slice(of.from + 1)) ?? [];
  return { from: of.from, to: of.to, put: `${open}${OPENED}${put}</${tag}>` };
}

/** Closes again what was opened, and takes out what was made, where nothing else is in it any more. */
export function settled(text: string): string {
  const splices: Splice[] = [];
  for (const e of everyElement(elementsOf(text))) {
    const inside = text.slice(e.inner, e.innerEnd);
    if (inside === MADE) splices.push({ from: e.from, to: e.to, put: '' });
    else if (inside === OPENED) splices.push({ from: e.inner - 1, to: e.to, put: '/>' });
  }
  // What held only that may be next.
  return splices.length === 0 ? text : settled(spliced(text, splices));
}

export function escapeXml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** Text of XML as it reads: the five entities that there always are, and characters by number. */
export function unescaped(text: string): string {
  return text.replace(/&(?:#(\d+)|#x([0-9a-fA-F]+)|(lt|gt|amp|quot|apos));/g, (_, d, x, named: string) =>
    d || x
      ? String.fromCodePoint(d ? Number(d) : parseInt(String(x), 16))
      : ({ lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" }[named] ?? ''),
  );
}
