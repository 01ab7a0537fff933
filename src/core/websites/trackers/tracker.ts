import type { Visitor } from './visitor.ts';

export const TRACKER_KINDS = [
  'cookie',
  'local storage',
  'session storage',
  'IndexedDB',
  'cache storage',
  'service worker',
  'request',
  'link decoration',
  'bounce',
  'fingerprint',
] as const;
export type TrackerKind = (typeof TRACKER_KINDS)[number];

export type Party = 'first' | 'third';

/** What makes two sightings the same tracker. Hosts are lower case; names have their changing parts as `*`. */
export interface TrackerKey {
  readonly kind: TrackerKind;
  readonly name: string;
  /** The host it reaches: a cookie's domain, a request's host, a storage key's origin, the host of the script that reads. */
  readonly host: string;
}

/** One step from the page towards what set or asked for the tracker. */
export interface Cause {
  readonly what: 'page' | 'script' | 'frame' | 'style' | 'response';
  readonly url: string;
  /** 1-based; absent where the browser gave none. */
  readonly line?: number | undefined;
}

/** What the visitor was doing when it was first seen. */
export const MOMENTS = ['load', 'scroll', 'wait', 'click', 'leave'] as const;
export type Moment = (typeof MOMENTS)[number];

/** The attributes of a cookie (RFC 6265bis). */
export interface CookieTraits {
  readonly httpOnly: boolean;
  readonly secure: boolean;
  readonly sameSite: 'strict' | 'lax' | 'none' | 'unset';
  /** Kept apart for each site that embeds it. */
  readonly partitioned: boolean;
}

/** A stored value found again in what was sent. */
export interface Sent extends TrackerKey {
  /** Where it stood: a parameter's name, `path`, `body` or `header`. */
  readonly where: string;
  /** As it stands, or which digest or coding of it. */
  readonly as: 'itself' | 'base64' | 'MD5' | 'SHA-1' | 'SHA-256';
}

/** What one visitor saw of a tracker in one sweep. */
export interface Sighting {
  readonly visitor: Visitor;
  /** On how many of the visitor's pages. */
  readonly pages: number;
  readonly firstPage: string;
  /** The pages it was on, at most fifty of them. */
  readonly onPages: readonly string[];
  readonly party: Party;
  /** Seconds it would live, as declared; `null` for a session, storage without an end, or a request. */
  readonly lifetime: number | null;
  readonly setBy: 'http' | 'script' | 'page';
  /** Characters in the value; the value itself is never kept. */
  readonly valueLength: number;
  /** Shannon estimate over the value's characters, in bits; 0 for requests. */
  readonly valueBits: number;
  /** From the page's own tag to the last script; the first is the page. */
  readonly cause: readonly Cause[];
  /** What kind of resource a request asked for; empty otherwise. */
  readonly resource: string;
  readonly moment: Moment;
  /** Why the browser refused it, in words; empty where it was done. A refused one is an attempt. */
  readonly refused: string;
  readonly cookie: CookieTraits | null;
  /** It is gone where a browser blocks third-party cookies. */
  readonly blockable: boolean;
  /** The other company's host behind a name of the site's own (DNS CNAME); empty where there is none. */
  readonly alias: string;
  readonly sends: readonly Sent[];
}

export interface ObservedTracker extends TrackerKey {
  readonly sightings: readonly Sighting[];
}

/** As long as a name or a host may be that is stored and shown. */
export const LONGEST_NAME = 300;
const LONGEST_HOST = 260;

/**
 * The key with its name and host cut to what is stored. What is cut gets a mark of the whole, so that two that begin alike
 * stay two.
 */
export function boundedKey({ kind, name, host }: TrackerKey): TrackerKey {
  return { kind, name: bounded(name, LONGEST_NAME), host: bounded(host, LONGEST_HOST) };
}

function bounded(text: string, most: number): string {
  // Half of a pair is no character, and would be stored as another.
  const sound = /\p{Surrogate}/u.test(text) ? text.replace(/\p{Surrogate}/gu, '\ufffd') + mark(text) : text;
  return sound.length <= most
    ? sound
    : sound.slice(0, most - 10).replace(/[\ud800-\udbff]$/, '') + mark(text);
}

/** FNV-1a of the code units, in base 36. */
function mark(text: string): string {
  let hash = 0xcbf29ce484222325n;
  for (let i = 0; i < text.length; i++)
    hash = BigInt.asUintN(64, (hash ^ BigInt(text.charCodeAt(i))) * 0x100000001b3n);
  return `…${hash.toString(36).slice(0, 8)}`;
}

export function trackerKey({ kind, name, host }: TrackerKey): string {
  return `${kind}\n${host}\n${name}`;
}

/**
 * A name with what changes from visitor to visitor replaced by `*`: UUIDs, runs of six or more hexadecimal digits
 * that hold a digit, and runs of five or more decimal digits. A name of nothing else stays as it is.
 */
export function stableName(name: string): string {
  const stable = name
    .replace(/[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/gi, '*')
    .replace(/(?<![a-z0-9])(?=[a-f]*\d)[0-9a-f]{6,}(?![a-z0-9])/gi, '*')
    .replace(/\d{5,}/g, '*');
  return /^\**$/.test(stable) ? name : stable;
}

/**
 * Names of one kind and host that rotate, by what they are to be called: a name with hexadecimal letters alone where
 * others have digits (`vz_fadeca` beside `vz_*`) is one of them.
 */
export function rotatingNames(names: readonly string[]): ReadonlyMap<string, string> {
  const starred = [...new Set(names)].filter((n) => n.includes('*'));
  const found = new Map<string, string>();
  for (const pattern of starred) {
    const shape = new RegExp(
      `^${pattern
        .split('*')
        .map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
        .join('[0-9a-f]{6,}')}$`,
      'i',
    );
    for (const name of names) if (!name.includes('*') && shape.test(name)) found.set(name, pattern);
  }
  return found;
}

/** The path of a request as a name: no query, and segments that look like identifiers as `*`. */
export function requestName(url: URL): string {
  const segments = url.pathname.split('/').map((s) => (looksRandom(s) ? '*' : stableName(s)));
  return segments.join('/') || '/';
}

function looksRandom(segment: string): boolean {
  return segment.length >= 20 && /\d/.test(segment) && /[a-z]/i.test(segment) && !/[.-]/.test(segment);
}

/** Bits of information in a value, estimated as its length times the Shannon entropy of its characters. */
export function valueBits(value: string): number {
  if (value.length === 0) return 0;
  const counts = new Map<string, number>();
  for (const c of value) counts.set(c, (counts.get(c) ?? 0) + 1);
  let perCharacter = 0;
  let total = 0;
  for (const n of counts.values()) total += n;
  for (const n of counts.values()) perCharacter -= (n / total) * Math.log2(n / total);
  return Math.round(perCharacter * total);
}

const UNITS: readonly (readonly [seconds: number, one: string, many: string])[] = [
  [365.25 * 86400, 'year', 'years'],
  [30.4375 * 86400, 'month', 'months'],
  [86400, 'day', 'days'],
  [3600, 'hour', 'hours'],
  [60, 'minute', 'minutes'],
  [1, 'second', 'seconds'],
];

/** A lifetime in words, in the largest unit that tells it within 5% (within 1% for one of it). */
export function lifetimeWords(tracker: { kind: TrackerKind }, seconds: number | null): string {
  if (!isKept(tracker.kind)) return '–';
  if (seconds === null)
    return tracker.kind === 'cookie' || tracker.kind === 'session storage' ? 'session' : 'no end';
  if (seconds <= 0) return 'ends at once';
  for (const [size, one, many] of UNITS) {
    const n = Math.round(seconds / size);
    const off = Math.abs(seconds / size - n) / n;
    if (n >= 2 && off < 0.05) return `${n} ${many}`;
    if (n === 1 && off < 0.01) return `1 ${one}`;
  }
  return `${Math.round(seconds)} seconds`;
}

/** Whether it stays on the visitor's device. */
export function isKept(kind: TrackerKind): boolean {
  switch (kind) {
    case 'cookie':
    case 'local storage':
    case 'session storage':
    case 'IndexedDB':
    case 'cache storage':
    case 'service worker':
      return true;
    case 'request':
    case 'link decoration':
    case 'bounce':
    case 'fingerprint':
      return false;
  }
}
