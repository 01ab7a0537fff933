import { md5, sha1 } from '@noble/hashes/legacy.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { toHex } from '../../evidence/merkle.ts';
import { valueBits, type Sent, type TrackerKey } from './tracker.ts';

/** What one request carries to another site. */
export interface Outgoing {
  readonly url: string;
  readonly body: string;
  readonly headers: Readonly<Record<string, string>>;
}

interface Known {
  readonly key: TrackerKey;
  readonly as: Sent['as'];
}

/** Shorter ones, or ones with less in them, are found in everything. */
const SHORTEST = 8;
const LEAST_BITS = 26;
const MOST_VALUES = 20_000;
/** Headers that say what the browser is, or that the sweep's own tools send. */
const BROWSERS_OWN =
  /^(cookie|referer|user-agent|accept.*|sec-.*|origin|content-.*|host|upgrade.*|x-yare-.*)$/i;

/**
 * The stored values of one visitor, so that they can be found again in what is sent. Values and their digests stay in
 * memory only for as long as the visit.
 */
export class Identifiers {
  readonly #values = new Map<string, Known>();

  /** Takes in a stored value and the parts of it that look like identifiers. */
  add(value: string, key: TrackerKey): void {
    if (this.#values.size > MOST_VALUES) return;
    const text = decoded(value);
    for (const token of new Set([text, ...tokens(text)])) {
      if (!looksLikeIdentifier(token) || this.#values.has(token)) continue;
      this.#values.set(token, { key, as: 'itself' });
      const bytes = new TextEncoder().encode(token);
      for (const [as, digest] of [
        ['MD5', md5],
        ['SHA-1', sha1],
        ['SHA-256', sha256],
      ] as const)
        this.#values.set(toHex(digest(bytes)), { key, as });
      const base64 = btoa(String.fromCharCode(...bytes)).replace(/=+$/, '');
      this.#values.set(base64, { key, as: 'base64' });
    }
  }

  /** The stored values that go out with a request, each once. */
  sentIn(out: Outgoing): readonly Sent[] {
    if (this.#values.size === 0) return [];
    const found = new Map<string, Sent>();
    const look = (text: string, where: string) => {
      for (const known of this.#find(text)) {
        const sent: Sent = { ...known.key, where, as: known.as };
        found.set(`${sent.kind}\n${sent.host}\n${sent.name}`, sent);
      }
    };
    const url = URL.canParse(out.url) ? new URL(out.url) : undefined;
    for (const [name, value] of url?.searchParams ?? []) look(value, name);
    look(url?.pathname ?? '', 'path');
    if (out.body) look(out.body, 'body');
    for (const [name, value] of Object.entries(out.headers))
      if (!BROWSERS_OWN.test(name)) look(value, `header ${name}`);
    return [...found.values()];
  }

  #find(text: string): readonly Known[] {
    const plain = decoded(text);
    return [plain, ...tokens(plain)].flatMap((token) => {
      const known =
        this.#values.get(token) ??
        this.#values.get(token.replace(/=+$/, '')) ??
        this.#values.get(token.toLowerCase());
      return known ? [known] : [];
    });
  }
}

/** Long and varied enough to single out a visitor, and neither a time nor a plain word. */
export function looksLikeIdentifier(token: string): boolean {
  if (token.length < SHORTEST || token.length > 500 || valueBits(token) < LEAST_BITS) return false;
  if (/^1[4-9]\d{8}(\d{3}(\d{3})?)?$/.test(token) || /^20\d\d-\d\d-\d\d/.test(token)) return false;
  if (/^https?:|^\//.test(token)) return false;
  return /\d/.test(token) || /[a-z][A-Z]|[A-Z]{2}[a-z]/.test(token) || !/^[A-Za-z_ -]+$/.test(token);
}

function tokens(text: string): readonly string[] {
  return text.length > 20_000
    ? []
    : [...text.split(/[^A-Za-z0-9_+/=-]+/), ...text.split(/[^A-Za-z0-9]+/)].filter(
        (t) => t.length >= SHORTEST,
      );
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
