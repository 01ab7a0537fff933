import type { Collector } from './collector.ts';
import type { PageProbe } from './page/page-probe.ts';

const MOST_BOUNCES = 20;

/** Links that seem to lead through another site and back, each kind of them once, with the page each stood on. */
export class BounceLinks {
  readonly #links = new Map<string, { readonly link: string; readonly from: string }>();

  remember(link: string, from: string): void {
    const { host, pathname } = new URL(link);
    const key = `${host}${pathname}`;
    if (this.#links.size < MOST_BOUNCES && !this.#links.has(key)) this.#links.set(key, { link, from });
  }

  [Symbol.iterator](): IterableIterator<{ readonly link: string; readonly from: string }> {
    return this.#links.values();
  }
}

/** Adds to what a page did the other sites on the way from one page of this site to another. */
export function addBounces(probe: PageProbe, ownHost: string, collector: Collector): void {
  const path = probe.path.filter((p) => /^https?:/.test(p.url) && URL.canParse(p.url));
  const home = path.findLastIndex((p) => new URL(p.url).host === ownHost);
  for (const { url, cause } of path.slice(0, Math.max(0, home)))
    if (collector.party(new URL(url).hostname) === 'third')
      probe.add({ what: 'bounce', url, cause, moment: 'load' });
}
