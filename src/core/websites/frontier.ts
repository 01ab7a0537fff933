/**
 * The pages a sweep has still to see: breadth first, each once, on the site's own host. A plain queue with limits,
 * so that endless links end.
 */
export interface Scope {
  readonly host: string;
  readonly maxPages: number;
  /** Links away from the start page. */
  readonly maxDepth: number;
}

export interface Planned {
  readonly url: string;
  readonly depth: number;
}

/** No page of the site is longer than this in its address; longer ones are traps. */
const LONGEST_URL = 2000;
const NOT_PAGES =
  /\.(?:jpe?g|png|gif|webp|avif|svg|ico|css|m?js|json|xml|txt|pdf|zip|gz|tar|rar|7z|mp[34]|webm|mov|avi|docx?|xlsx?|pptx?|woff2?|ttf|exe|dmg|apk|ics|csv)$/i;
const SIGNS_OUT = /(?:^|[/_-])(?:log-?out|sign-?out|log-?ud|afmeld|logga-?ut|abmelden)(?:$|[/_.-])/i;

export class Frontier {
  readonly #seen = new Set<string>();
  readonly #queue: Planned[] = [];
  #taken = 0;
  #refused = 0;

  constructor(readonly scope: Scope) {}

  /** `true` when the address is new, in scope and within the limits. */
  add(href: string, base: string, depth: number): boolean {
    const url = pageAddress(href, base, this.scope.host);
    if (!url || this.#seen.has(url)) return false;
    if (depth > this.scope.maxDepth || this.#seen.size >= this.scope.maxPages) {
      this.#refused++;
      return false;
    }
    this.#seen.add(url);
    this.#queue.push({ url, depth });
    return true;
  }

  next(): Planned | undefined {
    const page = this.#queue.shift();
    if (page) this.#taken++;
    return page;
  }

  get known(): number {
    return this.#seen.size;
  }

  get taken(): number {
    return this.#taken;
  }

  /** Whether limits kept pages out. */
  get cut(): boolean {
    return this.#refused > 0;
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
