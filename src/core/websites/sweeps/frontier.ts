import { isIncluded, shapeOf, type Scope } from './scope.ts';

/** What a frontier needs of a scope. */
export type Bounds = Pick<Scope, 'maxPages' | 'maxDepth' | 'include' | 'exclude' | 'perShape'>;

export interface Planned {
  readonly url: string;
  readonly depth: number;
}

/** No page of the site is longer than this in its address; longer ones are traps. */
const LONGEST_URL = 2000;
const NOT_PAGES =
  /\.(?:jpe?g|png|gif|webp|avif|svg|ico|css|m?js|json|xml|txt|pdf|zip|gz|tar|rar|7z|mp[34]|webm|mov|avi|docx?|xlsx?|pptx?|woff2?|ttf|exe|dmg|apk|ics|csv)$/i;
const SIGNS_OUT = /(?:^|[/_-])(?:log-?out|sign-?out|log-?ud|afmeld|logga-?ut|abmelden)(?:$|[/_.-])/i;

/**
 * The pages a sweep has still to see: breadth first, each once, on the site's own host. A plain queue with limits,
 * so that endless links end.
 */
export class Frontier {
  readonly #seen = new Set<string>();
  readonly #queue: Planned[] = [];
  readonly #shapes = new Map<string, { kept: number; left: number }>();
  #disallowed = 0;
  #refused = 0;

  constructor(
    readonly host: string,
    readonly bounds: Bounds,
    /** What robots.txt lets in. */
    readonly allows: (url: string) => boolean = () => true,
  ) {}

  /** Pages that wait to be seen. */
  get left(): number {
    return this.#queue.length;
  }

  /** `true` when the address is new, in scope and within the limits. */
  add(href: string, base: string, depth: number): boolean {
    const url = pageAddress(href, base, this.host);
    if (!url || this.#seen.has(url) || !isIncluded(this.bounds, url)) return false;
    if (depth > this.bounds.maxDepth || this.#queued >= this.bounds.maxPages) {
      this.#refused++;
      return false;
    }
    this.#seen.add(url);
    if (!this.allows(url)) {
      this.#disallowed++;
      return false;
    }
    if (!this.#withinShape(url)) return false;
    this.#queued++;
    this.#queue.push({ url, depth });
    return true;
  }

  /** A page in spite of include, exclude and shape: those to begin at, and those another visitor saw. */
  addStart(href: string, base: string): void {
    const url = pageAddress(href, base, this.host);
    if (!url || this.#seen.has(url) || this.#queued >= this.bounds.maxPages) return;
    this.#seen.add(url);
    this.#queued++;
    this.#queue.push({ url, depth: 0 });
  }

  #queued = 0;

  next(): Planned | undefined {
    return this.#queue.shift();
  }

  /** Puts a page back that could not be seen to its end. */
  again(page: Planned): void {
    this.#queue.unshift(page);
  }

  /** Puts a page back behind all others. */
  later(page: Planned): void {
    this.#queue.push(page);
  }

  get known(): number {
    return this.#queued;
  }

  /** Whether limits kept pages out. */
  get cut(): boolean {
    return this.#refused > 0;
  }

  /** Pages left out because robots.txt asks for it. */
  get disallowed(): number {
    return this.#disallowed;
  }

  /** Shapes of which only some pages were taken. */
  get sampled(): readonly { readonly shape: string; readonly kept: number; readonly left: number }[] {
    return [...this.#shapes].filter(([, s]) => s.left > 0).map(([shape, s]) => ({ shape, ...s }));
  }

  #withinShape(url: string): boolean {
    const { perShape } = this.bounds;
    if (perShape === null) return true;
    const shape = shapeOf(url);
    const known = this.#shapes.get(shape) ?? { kept: 0, left: 0 };
    this.#shapes.set(shape, known);
    const within = known.kept < perShape;
    if (within) known.kept++;
    else known.left++;
    return within;
  }
}

/**
 * The address of a page as it is swept: absolute, without fragment, its query in order. `undefined` for another host,
 * a file that is no page, a link that signs out, or what is no address.
 */
export function pageAddress(href: string, base: string, host: string): string | undefined {
  let url: URL;
  try {
    url = new URL(href, base);
  } catch {
    return undefined;
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return undefined;
  if (url.host !== host || url.username || url.href.length > LONGEST_URL) return undefined;
  if (NOT_PAGES.test(url.pathname) || SIGNS_OUT.test(url.pathname)) return undefined;
  url.hash = '';
  url.searchParams.sort();
  return url.href;
}
