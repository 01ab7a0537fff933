import { defaultTreeAdapter as tree, parse, type DefaultTreeAdapterMap } from 'parse5';
import { requestName, type Cause, type ObservedTracker } from './tracker.ts';

/** What can be done about a leak, besides calling it essential. */
export const FIXES = ['hold', 'mark', 'remove'] as const;
export type Fix = (typeof FIXES)[number];

/** A request; or what scripts of the page keep: a cookie, a stored value, a database, a cache, a service worker. */
export const HOLD_KINDS = ['request', 'cookie', 'storage', 'database', 'cache', 'worker'] as const;

/** What the gate holds by itself until its purpose is allowed. `*` in the name stands for anything. */
export interface GateHold {
  readonly kind: (typeof HOLD_KINDS)[number];
  readonly host: string;
  readonly name: string;
  readonly purpose: string;
  /** Not held, then, but let through without these parameters, a body or credentials. */
  readonly without?: readonly string[] | undefined;
}

/**
 * The hold that keeps a tracker back: the first request on the way to it that goes to another place than the page, or
 * the write itself where the page's own scripts do it. `undefined` where the site's own server sets it.
 */
export function gateHoldOf(tracker: ObservedTracker, purpose: string): GateHold | undefined {
  const cause = longestCause(tracker);
  const page = cause[0]?.url ?? '';
  const step = cause.slice(1).find((c) => URL.canParse(c.url) && !sameOrigin(c.url, page));
  if (step) {
    const url = new URL(step.url);
    return { kind: 'request', host: url.hostname, name: requestName(url), purpose };
  }
  switch (tracker.kind) {
    case 'request':
      return { kind: 'request', host: tracker.host, name: tracker.name, purpose };
    case 'cookie':
      return tracker.sightings.some((s) => s.setBy === 'script')
        ? { kind: 'cookie', host: tracker.host, name: tracker.name, purpose }
        : undefined;
    case 'local storage':
    case 'session storage':
      return { kind: 'storage', host: tracker.host, name: tracker.name, purpose };
    case 'IndexedDB':
      return { kind: 'database', host: tracker.host, name: tracker.name, purpose };
    case 'cache storage':
      return { kind: 'cache', host: tracker.host, name: tracker.name, purpose };
    case 'service worker':
      return { kind: 'worker', host: tracker.host, name: tracker.name, purpose };
    case 'link decoration':
    case 'bounce':
    case 'fingerprint':
      return undefined;
  }
}

/** The tag in the page's HTML that begins what leads to a tracker. */
export interface TagTarget {
  /** Host and path (as `requestName`) of a script, frame or picture in the page; `undefined` for an inline script. */
  readonly tag: { readonly host: string; readonly name: string } | undefined;
  /** 1-based line of the page at which an inline script acts. */
  readonly line: number | undefined;
}

export function tagTargetOf(tracker: ObservedTracker): TagTarget {
  const cause = longestCause(tracker);
  const step = cause.slice(1).find((c) => c.what === 'script' || c.what === 'frame' || c.what === 'style');
  const line = cause[0]?.what === 'page' ? cause[0].line : undefined;
  if (step && URL.canParse(step.url)) {
    const url = new URL(step.url);
    return { tag: { host: url.hostname, name: requestName(url) }, line };
  }
  return { tag: tracker.kind === 'request' ? { host: tracker.host, name: tracker.name } : undefined, line };
}

export interface PageFix {
  readonly fix: 'mark' | 'remove';
  readonly purpose: string;
  readonly target: TagTarget;
}

export interface FixedPage {
  readonly html: string;
  /** How many tags were changed. */
  readonly changed: number;
}

type Element = DefaultTreeAdapterMap['element'];

/**
 * A page with a tag marked for a purpose, or taken out, as the web team would do it by hand. Everything else stays
 * letter by letter.
 */
export function fixPage(html: string, pageUrl: string, { fix, purpose, target }: PageFix): FixedPage {
  const all = elementsOf(html);
  const bySource = target.tag
    ? all.filter((e) => loads(e, pageUrl, target.tag as { host: string; name: string }))
    : [];
  const chosen = bySource.length > 0 ? bySource : all.filter((e) => isInlineAt(e, target.line));
  let out = html;
  for (const element of chosen.toSorted((a, b) => offset(b) - offset(a))) {
    const location = element.sourceCodeLocation;
    if (!location) continue;
    if (fix === 'remove') out = out.slice(0, location.startOffset) + out.slice(location.endOffset);
    else {
      const start = location.startTag ?? location;
      out = out.slice(0, start.startOffset) + markedTag(element, purpose) + out.slice(start.endOffset);
    }
  }
  return { html: out, changed: chosen.length };
}

/** A page with the notice's line first in its head, where it has none. */
export function installInPage(html: string, snippet: string, scriptUrl: string): string {
  if (html.includes(scriptUrl)) return html;
  const head = elementsOf(html).find((e) => e.tagName === 'head')?.sourceCodeLocation?.startTag;
  return head ? html.slice(0, head.endOffset) + snippet + html.slice(head.endOffset) : snippet + html;
}

function markedTag(element: Element, purpose: string): string {
  const script = element.tagName === 'script';
  const attributes = element.attrs
    .filter((a) => !(script && a.name === 'type'))
    .map((a) => (script || a.name !== 'src' ? a : { name: 'data-yare-src', value: a.value }));
  const type = element.attrs.find((a) => a.name === 'type')?.value;
  const added = [
    ...(script ? [{ name: 'type', value: 'text/plain' }] : []),
    { name: 'data-yare-purpose', value: purpose },
    ...(script && type && !/javascript$/i.test(type) ? [{ name: 'data-yare-type', value: type }] : []),
  ];
  const text = [...added, ...attributes].map(
    (a) => ` ${a.name}="${a.value.replace(/&/g, '&amp;').replace(/"/g, '&quot;')}"`,
  );
  return `<${element.tagName}${text.join('')}>`;
}

function elementsOf(html: string): Element[] {
  const found: Element[] = [];
  const walk = (node: DefaultTreeAdapterMap['node']) => {
    if (tree.isElementNode(node)) found.push(node);
    if ('childNodes' in node) for (const child of node.childNodes) walk(child);
  };
  walk(parse(html, { sourceCodeLocationInfo: true }));
  return found;
}

function loads(element: Element, pageUrl: string, tag: { host: string; name: string }): boolean {
  if (!['script', 'iframe', 'img', 'embed', 'link', 'source', 'video', 'audio'].includes(element.tagName))
    return false;
  const source = element.attrs.find(
    (a) => a.name === 'src' || (element.tagName === 'link' && a.name === 'href'),
  );
  if (!source || !URL.canParse(source.value, pageUrl)) return false;
  const url = new URL(source.value, pageUrl);
  return url.hostname === tag.host && requestName(url) === tag.name;
}

function isInlineAt(element: Element, line: number | undefined): boolean {
  const location = element.sourceCodeLocation;
  if (line === undefined || !location || element.tagName !== 'script') return false;
  const inline = !element.attrs.some((a) => a.name === 'src');
  return inline && location.startLine <= line && line <= location.endLine;
}

function offset(element: Element): number {
  return element.sourceCodeLocation?.startOffset ?? 0;
}

function longestCause(tracker: ObservedTracker): readonly Cause[] {
  return tracker.sightings.map((s) => s.cause).toSorted((a, b) => b.length - a.length)[0] ?? [];
}

function sameOrigin(a: string, b: string): boolean {
  return URL.canParse(b) && new URL(a).host === new URL(b).host;
}
