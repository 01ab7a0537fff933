import { getDomain } from 'tldts';
import {
  requestName,
  stableName,
  trackerKey,
  valueBits,
  type Cause,
  type ObservedTracker,
  type Party,
  type Sighting,
  type TrackerKey,
} from '../../../core/websites/tracker.ts';
import type { Visitor } from '../../../core/websites/visitor.ts';
import type { Seen } from './page-probe.ts';

/** A cookie as the browser holds it. */
export interface JarCookie {
  readonly name: string;
  readonly value: string;
  readonly domain: string;
  /** Unix seconds; -1 for a session. */
  readonly expires: number;
}

interface Gathered {
  readonly key: TrackerKey;
  readonly party: Party;
  readonly pages: Set<number>;
  firstPage: string;
  setBy: Sighting['setBy'];
  cause: readonly Cause[];
  resource: string;
  lifetime: number | null;
  valueLength: number;
  valueBits: number;
}

/** More kinds of trackers than this on one site is an attack on the sweep, and is said. */
const MOST_TRACKERS = 20_000;

/** Gathers what one visitor's pages did into sightings, a tracker each. */
export class Collector {
  readonly #trackers = new Map<string, Gathered>();
  readonly #scriptPages = new Map<string, Set<number>>();
  readonly #pageNumbers = new Map<string, number>();
  overflowed = false;

  constructor(
    readonly visitor: Visitor,
    readonly siteHost: string,
  ) {}

  /** Takes in one page. `jar` is what the browser holds after it; `now` in Unix seconds. */
  addPage(url: string, seen: readonly Seen[], jar: readonly JarCookie[], now: number): void {
    const page = this.#pageNumbers.get(url) ?? this.#pageNumbers.size;
    this.#pageNumbers.set(url, page);
    for (const s of seen) {
      switch (s.what) {
        case 'request':
          this.#addScript(s.url, page);
          if (this.party(hostName(s.url)) === 'third') this.#addRequest(s, page, url);
          break;
        case 'cookie': {
          const held = jar.find((c) => c.name === s.name && bare(c.domain) === s.domain);
          if (held) this.#addCookie(held, s, page, url, now);
          break;
        }
        case 'storage':
          this.#addStorage(s, page, url);
      }
    }
  }

  /** Takes in cookies that the browser holds though no page was seen to set them, as by a worker of the site. */
  finish(jar: readonly JarCookie[], startUrl: string, now: number): void {
    for (const cookie of jar) {
      const known = this.#trackers.has(
        trackerKey({ kind: 'cookie', name: stableName(cookie.name), host: bare(cookie.domain) }),
      );
      if (!known) this.#addCookie(cookie, undefined, 0, startUrl, now);
    }
  }

  get size(): number {
    return this.#trackers.size;
  }

  /** What is stored counts on every page that loaded the script or answer behind it, even where nothing new was written. */
  sightings(): readonly (TrackerKey & { readonly sighting: Sighting })[] {
    return [...this.#trackers.values()].map((t) => {
      const behind =
        t.key.kind === 'request'
          ? undefined
          : t.cause.findLast((c) => c.what === 'script' || c.what === 'response');
      const pages = behind ? new Set([...t.pages, ...(this.#scriptPages.get(behind.url) ?? [])]) : t.pages;
      return {
        ...t.key,
        sighting: {
          visitor: this.visitor,
          pages: pages.size,
          firstPage: t.firstPage,
          party: t.party,
          lifetime: t.lifetime,
          setBy: t.setBy,
          valueLength: t.valueLength,
          valueBits: t.valueBits,
          cause: t.cause,
          resource: t.resource,
        },
      };
    });
  }

  /** Same registrable domain as the site, or not. */
  party(host: string): Party {
    return site(host) === site(this.siteHost) ? 'first' : 'third';
  }

  #addScript(url: string, page: number): void {
    const pages = this.#scriptPages.get(url);
    if (pages) pages.add(page);
    else if (this.#scriptPages.size < MOST_TRACKERS) this.#scriptPages.set(url, new Set([page]));
  }

  #addRequest(s: Extract<Seen, { what: 'request' }>, page: number, url: string): void {
    const to = new URL(s.url);
    const last = s.cause.at(-1)?.what;
    this.#add({ kind: 'request', name: requestName(to), host: to.hostname }, page, url, {
      party: 'third',
      setBy: last === 'script' ? 'script' : 'page',
      cause: s.cause,
      resource: s.resource,
      lifetime: null,
      valueLength: 0,
      valueBits: 0,
    });
  }

  #addCookie(
    held: JarCookie,
    s: Extract<Seen, { what: 'cookie' }> | undefined,
    page: number,
    url: string,
    now: number,
  ): void {
    const host = bare(held.domain);
    this.#add({ kind: 'cookie', name: stableName(held.name), host }, page, url, {
      party: this.party(host),
      setBy: s?.by ?? 'http',
      cause: s?.cause ?? [],
      resource: '',
      lifetime: held.expires > 0 ? Math.max(0, Math.round(held.expires - now)) : null,
      valueLength: held.value.length,
      valueBits: valueBits(held.value),
    });
  }

  #addStorage(s: Extract<Seen, { what: 'storage' }>, page: number, url: string): void {
    const host = hostName(s.origin);
    this.#add({ kind: s.area, name: stableName(s.key), host }, page, url, {
      party: this.party(host),
      setBy: 'script',
      cause: s.cause,
      resource: '',
      lifetime: null,
      valueLength: s.length,
      valueBits: valueBits(s.value.slice(0, 4096)),
    });
  }

  #add(
    key: TrackerKey,
    page: number,
    url: string,
    seen: Omit<Gathered, 'key' | 'pages' | 'firstPage'>,
  ): void {
    const id = trackerKey(key);
    const known = this.#trackers.get(id);
    if (!known) {
      if (this.#trackers.size >= MOST_TRACKERS) this.overflowed = true;
      else this.#trackers.set(id, { key, pages: new Set([page]), firstPage: url, ...seen });
      return;
    }
    known.pages.add(page);
    if (known.cause.length === 0) known.cause = seen.cause;
    known.lifetime = longest(known.lifetime, seen.lifetime);
    known.valueLength = Math.max(known.valueLength, seen.valueLength);
    known.valueBits = Math.max(known.valueBits, seen.valueBits);
  }
}

/** Joins the sightings of several visitors into trackers. */
export function joinSightings(
  lists: readonly (readonly (TrackerKey & { readonly sighting: Sighting })[])[],
): readonly ObservedTracker[] {
  const joined = new Map<string, { key: TrackerKey; sightings: Sighting[] }>();
  for (const { sighting, ...key } of lists.flat()) {
    const id = trackerKey(key);
    const known = joined.get(id);
    if (known) known.sightings.push(sighting);
    else joined.set(id, { key, sightings: [sighting] });
  }
  return [...joined.values()].map(({ key, sightings }) => ({ ...key, sightings }));
}

function longest(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.max(a, b);
}

function bare(domain: string): string {
  return domain.replace(/^\./, '').toLowerCase();
}

function hostName(url: string): string {
  return URL.canParse(url) ? new URL(url).hostname : url;
}

function site(host: string): string {
  return getDomain(host, { allowPrivateDomains: true }) ?? host;
}
