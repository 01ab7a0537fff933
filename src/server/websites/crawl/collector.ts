import { getDomain } from 'tldts';
import { Identifiers, looksLikeIdentifier } from '../../../core/websites/trackers/identifier.ts';
import { logFailure } from '../../processes/failure-log.ts';
import {
  MOMENTS,
  requestName,
  rotatingNames,
  stableName,
  boundedKey,
  trackerKey,
  valueBits,
  type Cause,
  type ObservedTracker,
  type Party,
  type Sent,
  type Sighting,
  type TrackerKey,
} from '../../../core/websites/trackers/tracker.ts';
import type { Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Seen, SeenCookie, SeenFingerprint, SeenLink, SeenRequest, SeenStored } from './seen.ts';

/** A cookie as the browser holds it. */
export interface JarCookie {
  readonly name: string;
  readonly value: string;
  readonly domain: string;
  /** Unix seconds; -1 for a session. */
  readonly expires: number;
  readonly httpOnly?: boolean;
  readonly secure?: boolean;
  readonly sameSite?: string;
  readonly partitioned?: boolean;
}

type Facts = Omit<Sighting, 'visitor' | 'pages' | 'firstPage' | 'onPages' | 'alias' | 'sends' | 'party'>;

interface Gathered {
  readonly key: TrackerKey;
  readonly pages: Set<number>;
  readonly firstPage: string;
  facts: Facts;
  readonly sends: Map<string, Sent>;
  /** A request that is more than one for a plain file. */
  tells: boolean;
}

export type Sighted = TrackerKey & { readonly sighting: Sighting };

/** More kinds of trackers than this on one site is an attack on the sweep, and is said. */
const MOST_TRACKERS = 20_000;
const MOST_PAGES_NAMED = 50;
const MOST_SENT = 50;
/** Outgoing links looked at on one page. */
const MOST_LINKS = 500;

/** What a page is made of; whatever else is asked for may count or recognise. */
const PLAIN_FILE = /^(?:image|script|stylesheet|font|media|manifest|texttrack|other|)$/;

const NOTHING: Facts = {
  lifetime: null,
  setBy: 'page',
  valueLength: 0,
  valueBits: 0,
  cause: [],
  resource: '',
  moment: 'load',
  refused: '',
  cookie: null,
  blockable: false,
};

/** Gathers what one visitor's pages did into sightings, a tracker each. */
export class Collector {
  readonly #trackers = new Map<string, Gathered>();
  readonly #scriptPages = new Map<string, Set<number>>();
  readonly #pageNumbers = new Map<string, number>();
  readonly #identifiers = new Identifiers();
  /** Canonical names of hosts of the site's own, where they are another company's. */
  #aliases: ReadonlyMap<string, string> = new Map();
  /** From the page to each service worker, by its script. */
  #registered: ReadonlyMap<string, readonly Cause[]> = new Map();
  overflowed = false;
  /** Things on pages that made no sense. */
  unreadable = 0;

  constructor(
    readonly visitor: Visitor,
    readonly siteHost: string,
  ) {}

  /**
   * Takes in one page. `jar` is what the browser holds after it, asked for only when the page itself cannot know;
   * `links` are the outgoing links that stand on it.
   */
  addPage(
    url: string,
    seen: readonly Seen[],
    jar: readonly JarCookie[],
    links: readonly string[] = [],
  ): void {
    const page = this.#pageNumbers.get(url) ?? this.#pageNumbers.size;
    this.#pageNumbers.set(url, page);
    const at = { page, url };
    // What is stored first, since it may be found again in what is sent.
    for (const s of seen)
      this.#guarded(() => {
        if (s.what === 'cookie') this.#addCookie(s, at, jar);
        else if (s.what === 'stored') this.#addStored(s, at);
      });
    for (const s of seen) this.#guarded(() => this.#addOther(s, at));
    for (const link of links.slice(0, MOST_LINKS)) this.#guarded(() => this.#addStandingLink(link, at));
  }

  /** Whatever one thing on a page is made of, it costs no more than itself. */
  #guarded(add: () => void): void {
    try {
      add();
    } catch (error) {
      this.unreadable++;
      logFailure('something on a swept page could not be read', error);
    }
  }

  #addOther(s: Seen, at: At): void {
    switch (s.what) {
      case 'request':
        this.#addRequest(s, at);
        break;
      case 'link':
        this.#addLink(s, at);
        break;
      case 'bounce':
        this.#add(
          { kind: 'bounce', name: requestName(new URL(s.url)), host: hostName(s.url) },
          at,
          { ...NOTHING, setBy: 'page', resource: 'page', cause: s.cause, moment: s.moment },
          this.#identifiers.sentIn({ url: s.url, body: '', headers: {} }),
        );
        break;
      case 'fingerprint':
        this.#addFingerprint(s, at);
    }
  }

  /** Takes in cookies that the browser holds though no page was seen to set them, as by a worker of the site. */
  finish(jar: readonly JarCookie[], startUrl: string, now: number): void {
    for (const c of jar) {
      const key: TrackerKey = { kind: 'cookie', name: stableName(c.name), host: bare(c.domain) };
      if (this.#trackers.has(trackerKey(boundedKey(key)))) continue;
      const sameSite = c.sameSite?.toLowerCase();
      this.#add(
        key,
        { page: 0, url: startUrl },
        {
          ...NOTHING,
          setBy: 'http',
          lifetime: c.expires > 0 ? Math.max(0, Math.round(c.expires - now)) : null,
          valueLength: c.value.length,
          valueBits: valueBits(c.value),
          blockable: this.party(key.host) === 'third' && !c.partitioned,
          cookie: {
            httpOnly: c.httpOnly ?? false,
            secure: c.secure ?? false,
            sameSite: sameSite === 'strict' || sameSite === 'lax' || sameSite === 'none' ? sameSite : 'unset',
            partitioned: c.partitioned ?? false,
          },
        },
      );
    }
  }

  /** Hosts of the site's own that may be another company by their address. */
  get ownHosts(): readonly string[] {
    const hosts = [...this.#trackers.values()].flatMap((t) => [
      t.key.host,
      hostName(t.facts.cause.at(-1)?.url ?? ''),
    ]);
    return [...new Set(hosts)].filter((h) => h !== this.siteHost && this.party(h) === 'first');
  }

  /** Says which hosts are aliases, and of what; only those of another company count. */
  setAliases(canonical: ReadonlyMap<string, string>): void {
    this.#aliases = new Map([...canonical].filter(([, name]) => name !== '' && this.party(name) === 'third'));
  }

  /** Says who registered each service worker, since one tab may be told what it does before another who did. */
  setRegistered(registered: ReadonlyMap<string, readonly Cause[]>): void {
    this.#registered = registered;
  }

  #wholeCause(cause: readonly Cause[]): readonly Cause[] {
    const [first] = cause;
    if (!first || first.what === 'page') return cause;
    return [...(this.#registered.get(first.url) ?? []), ...cause];
  }

  get size(): number {
    return this.#trackers.size;
  }

  /** What is stored counts on every page that loaded the script or answer behind it, even where nothing new was written. */
  sightings(): readonly Sighted[] {
    const sighted: Sighted[] = [];
    const urls = [...this.#pageNumbers.keys()];
    const atWork = this.#scriptsAtWork();
    for (const t of this.#trackers.values()) {
      const { cause } = t.facts;
      const answerer = hostName(cause.at(-1)?.url ?? '');
      const alias = this.#aliases.get(t.key.host) ?? this.#aliases.get(answerer) ?? '';
      const reached = this.#aliases.has(t.key.host) || (alias !== '' && t.facts.setBy === 'http');
      const party = reached ? 'third' : this.party(t.key.host);
      // A plain file of the site's own recognises nobody, unless it is a script that does something of this.
      const plain = !t.tells && t.sends.size === 0 && !atWork.has(`${t.key.host}${t.key.name}`);
      if (t.key.kind === 'request' && party === 'first' && plain) continue;
      const behind =
        t.key.kind === 'request'
          ? undefined
          : cause.findLast((c) => c.what === 'script' || c.what === 'response');
      const pages = behind ? new Set([...t.pages, ...(this.#scriptPages.get(behind.url) ?? [])]) : t.pages;
      sighted.push({
        ...t.key,
        sighting: {
          visitor: this.visitor,
          pages: pages.size,
          firstPage: t.firstPage,
          onPages: [...pages].slice(0, MOST_PAGES_NAMED).map((n) => urls[n] ?? t.firstPage),
          party,
          alias,
          ...t.facts,
          cause: this.#wholeCause(cause),
          sends: [...t.sends.values()].filter((s) => trackerKey(s) !== trackerKey(t.key)),
        },
      });
    }
    return joinSightings([sighted]).flatMap(({ sightings, ...key }) =>
      sightings.map((sighting) => ({ ...key, sighting })),
    );
  }

  /** Scripts of the site's own other hosts that set, asked for or read something told, as host and path. */
  #scriptsAtWork(): ReadonlySet<string> {
    const scripts = new Set<string>();
    for (const { key, facts, tells } of this.#trackers.values()) {
      if (key.kind === 'request' && !tells && this.party(key.host) === 'first') continue;
      for (const { what, url } of facts.cause)
        if (what === 'script' && URL.canParse(url))
          scripts.add(`${hostName(url)}${requestName(new URL(url))}`);
    }
    return scripts;
  }

  /** Same registrable domain as the site, or not. */
  party(host: string): Party {
    return site(host) === site(this.siteHost) ? 'first' : 'third';
  }

  #addRequest(s: SeenRequest, at: At): void {
    this.#addScript(s.url, at.page);
    const to = new URL(s.url);
    // The page in the address bar is where the visitor went; where it leads through another site is a bounce.
    if (bareHost(to.hostname) === bareHost(this.siteHost) || s.resource === 'page') return;
    this.#add(
      { kind: 'request', name: requestName(to), host: to.hostname },
      at,
      { ...NOTHING, setBy: s.by, cause: s.cause, resource: s.resource, moment: s.moment, refused: s.refused },
      this.#identifiers.sentIn(s),
      !PLAIN_FILE.test(s.resource) || (s.resource === 'image' && s.by === 'script' && to.search !== ''),
    );
  }

  #addScript(url: string, page: number): void {
    const pages = this.#scriptPages.get(url);
    if (pages) pages.add(page);
    else if (this.#scriptPages.size < MOST_TRACKERS) this.#scriptPages.set(url, new Set([page]));
  }

  #addCookie(s: SeenCookie, at: At, jar: readonly JarCookie[]): void {
    let { refused } = s;
    if (refused === '?') {
      const held = jar.some((c) => c.name === s.name && bare(c.domain) === s.domain);
      refused = held ? '' : 'the browser did not keep it';
    }
    const key: TrackerKey = { kind: 'cookie', name: stableName(s.name), host: s.domain };
    if (!refused) this.#identifiers.add(s.value, key);
    this.#add(key, at, {
      ...NOTHING,
      setBy: s.by,
      cause: s.cause,
      moment: s.moment,
      refused,
      lifetime: s.lifetime,
      valueLength: s.value.length,
      valueBits: valueBits(s.value),
      cookie: s.traits,
      blockable: this.party(s.domain) === 'third' && !s.traits.partitioned && !s.top,
    });
  }

  #addStored(s: SeenStored, at: At): void {
    const key: TrackerKey = { kind: s.area, name: stableName(s.key), host: hostName(s.origin) };
    if (!s.refused) this.#identifiers.add(s.value, key);
    this.#add(key, at, {
      ...NOTHING,
      setBy: 'script',
      cause: s.cause,
      moment: s.moment,
      refused: s.refused,
      valueLength: s.length,
      valueBits: valueBits(s.value.slice(0, 4096)),
    });
  }

  #addFingerprint(s: SeenFingerprint, at: At): void {
    const reader = s.cause.findLast((c) => c.what === 'script');
    const host = hostName(reader?.url ?? s.origin);
    this.#add({ kind: 'fingerprint', name: s.name, host }, at, {
      ...NOTHING,
      setBy: 'script',
      cause: s.cause,
      moment: s.moment,
    });
  }

  /** A script put something into a link to another site that can tell visitors apart. */
  #addLink(s: SeenLink, at: At): void {
    const to = new URL(s.url);
    if (this.party(to.hostname) === 'first') return;
    const before = URL.canParse(s.before) ? new URL(s.before) : undefined;
    const sent = this.#identifiers.sentIn({ url: s.url, body: '', headers: {} });
    for (const [name, value] of to.searchParams) {
      if (before?.searchParams.get(name) === value) continue;
      const stored = sent.filter((x) => x.where === name);
      const rewritten = before !== undefined && before.host === to.host && looksLikeIdentifier(value);
      if (stored.length > 0 || rewritten)
        this.#add(
          { kind: 'link decoration', name: stableName(name), host: to.hostname },
          at,
          { ...NOTHING, setBy: 'script', cause: s.cause, moment: s.moment },
          stored,
        );
    }
  }

  /** A link to another site that holds a stored value as it stands on the page. */
  #addStandingLink(link: string, at: At): void {
    if (!URL.canParse(link)) return;
    const to = new URL(link);
    if (this.party(to.hostname) === 'first') return;
    for (const sent of this.#identifiers.sentIn({ url: link, body: '', headers: {} })) {
      const key: TrackerKey = { kind: 'link decoration', name: stableName(sent.where), host: to.hostname };
      const known = this.#trackers.get(trackerKey(boundedKey(key)));
      const cause: readonly Cause[] = known?.facts.cause ?? [{ what: 'page', url: at.url }];
      this.#add(key, at, { ...NOTHING, setBy: known?.facts.setBy ?? 'page', cause }, [sent]);
    }
  }

  #add(whole: TrackerKey, { page, url }: At, facts: Facts, sends: readonly Sent[] = [], tells = true): void {
    const key = boundedKey(whole);
    const id = trackerKey(key);
    let known = this.#trackers.get(id);
    if (!known) {
      if (this.#trackers.size >= MOST_TRACKERS) {
        this.overflowed = true;
        return;
      }
      known = { key, pages: new Set(), firstPage: url, facts, sends: new Map(), tells: false };
      this.#trackers.set(id, known);
    }
    known.pages.add(page);
    known.tells ||= tells;
    for (const s of sends) {
      const sent = { ...s, ...boundedKey(s) };
      if (known.sends.size < MOST_SENT) known.sends.set(trackerKey(sent), sent);
    }
    const was = known.facts;
    // What was done once counts as done, whatever was refused at another time.
    const better = was.refused !== '' && facts.refused === '' ? facts : was;
    known.facts = {
      ...better,
      refused: was.refused === '' || facts.refused === '' ? '' : was.refused,
      cause: wholer(better.cause, facts.cause),
      moment: MOMENTS.indexOf(facts.moment) < MOMENTS.indexOf(was.moment) ? facts.moment : was.moment,
      lifetime: longest(was.lifetime, facts.lifetime),
      valueLength: Math.max(was.valueLength, facts.valueLength),
      valueBits: Math.max(was.valueBits, facts.valueBits),
    };
  }
}

/** The one that leads from the page on; the first, where both do. */
function wholer(a: readonly Cause[], b: readonly Cause[]): readonly Cause[] {
  if (a.length === 0) return b;
  return a[0]?.what !== 'page' && b[0]?.what === 'page' ? b : a;
}

interface At {
  readonly page: number;
  readonly url: string;
}

/** Joins the sightings of several visitors into trackers. */
export function joinSightings(lists: readonly (readonly Sighted[])[]): readonly ObservedTracker[] {
  const joined = new Map<string, { key: TrackerKey; sightings: Map<Visitor, Sighting> }>();
  const all = lists.flat();
  const called = rotating(all);
  for (const { sighting, ...seen } of all) {
    const key = { ...seen, name: called(seen) };
    const id = trackerKey(key);
    const known = joined.get(id) ?? { key, sightings: new Map<Visitor, Sighting>() };
    joined.set(id, known);
    const before = known.sightings.get(sighting.visitor);
    known.sightings.set(sighting.visitor, before ? asOne(before, sighting) : sighting);
  }
  return [...joined.values()].map(({ key, sightings }) => ({ ...key, sightings: [...sightings.values()] }));
}

/** What each is called, once all names of its kind and host are known. */
function rotating(all: readonly TrackerKey[]): (key: TrackerKey) => string {
  const names = new Map<string, string[]>();
  const place = ({ kind, host }: TrackerKey) => `${kind}\n${host}`;
  for (const key of all) {
    const at = place(key);
    const of = names.get(at) ?? [];
    of.push(key.name);
    names.set(at, of);
  }
  const called = new Map([...names].map(([at, of]) => [at, rotatingNames(of)]));
  return (key) => called.get(place(key))?.get(key.name) ?? key.name;
}

/** Two sightings of one visitor that turn out to be of one tracker. */
function asOne(a: Sighting, b: Sighting): Sighting {
  const onPages = [...new Set([...a.onPages, ...b.onPages])];
  return {
    ...a,
    pages: Math.max(a.pages, b.pages, onPages.length),
    onPages: onPages.slice(0, MOST_PAGES_NAMED),
    refused: a.refused === '' || b.refused === '' ? '' : a.refused,
    lifetime: longest(a.lifetime, b.lifetime),
    valueLength: Math.max(a.valueLength, b.valueLength),
    valueBits: Math.max(a.valueBits, b.valueBits),
    sends: [...a.sends, ...b.sends].slice(0, MOST_SENT),
  };
}

function longest(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.max(a, b);
}

/** The host of a site, which answers with `www.` and without. */
function bareHost(host: string): string {
  return host.replace(/^www\./, '');
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
