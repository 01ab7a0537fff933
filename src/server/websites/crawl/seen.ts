import setCookie from 'set-cookie-parser';
import type { Cause, CookieTraits, Moment, TrackerKind } from '../../../core/websites/trackers/tracker.ts';

interface SeenAnything {
  readonly cause: readonly Cause[];
  readonly moment: Moment;
}

export interface SeenCookie extends SeenAnything {
  readonly what: 'cookie';
  readonly name: string;
  readonly value: string;
  readonly domain: string;
  /** Seconds; `null` for a session. */
  readonly lifetime: number | null;
  readonly traits: CookieTraits;
  readonly by: 'http' | 'script';
  /** In words; `?` where only the browser's jar can tell whether it was kept. */
  readonly refused: string;
  /** Set by the page in the address bar, not by something inside it. */
  readonly top: boolean;
}

export interface SeenStored extends SeenAnything {
  readonly what: 'stored';
  readonly area: Exclude<TrackerKind, 'cookie' | 'request' | 'link decoration' | 'bounce' | 'fingerprint'>;
  readonly origin: string;
  readonly key: string;
  readonly value: string;
  readonly length: number;
  readonly refused: string;
}

export interface SeenRequest extends SeenAnything {
  readonly what: 'request';
  readonly url: string;
  readonly resource: string;
  readonly body: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly by: 'script' | 'page';
  refused: string;
}

export interface SeenLink extends SeenAnything {
  readonly what: 'link';
  readonly url: string;
  readonly before: string;
}

export interface SeenBounce extends SeenAnything {
  readonly what: 'bounce';
  readonly url: string;
}

export interface SeenFingerprint extends SeenAnything {
  readonly what: 'fingerprint';
  readonly name: string;
  readonly origin: string;
}

/** What a page did, as it was seen; the raw material of trackers. */
export type Seen = SeenCookie | SeenStored | SeenRequest | SeenLink | SeenBounce | SeenFingerprint;

export type CookieLine = Pick<SeenCookie, 'name' | 'value' | 'domain' | 'lifetime' | 'traits'> & {
  /** The line takes a cookie away. */
  readonly removes: boolean;
};

/** A century: whoever asks for longer is taken to ask for this. Browsers keep a cookie for 400 days at the most. */
const LONGEST_S = 36_525 * 86_400;

/** Reads a Set-Cookie line (RFC 6265bis, section 5.6); `host` is who sends it, `now` in Unix seconds. */
export function readCookieLine(line: string, host: string, now: number): CookieLine | undefined {
  const [cookie] = setCookie.parse([line], { decodeValues: false });
  if (!cookie) return undefined;
  const { name, value, domain, maxAge, expires, secure, httpOnly, sameSite } = cookie;
  const { partitioned } = cookie as { partitioned?: boolean };
  if (name === '' && value === '') return undefined;
  const given = domain?.replace(/^\./, '').toLowerCase();
  const ends =
    expires && !Number.isNaN(expires.getTime()) ? Math.round(expires.getTime() / 1000 - now) : null;
  const asked = maxAge !== undefined && Number.isFinite(maxAge) ? maxAge : ends;
  const lifetime = asked === null ? null : Math.max(-LONGEST_S, Math.min(LONGEST_S, Math.round(asked)));
  const site = sameSite?.toLowerCase();
  return {
    name,
    value,
    domain: given || host,
    lifetime,
    removes: lifetime !== null && lifetime <= 0,
    traits: {
      httpOnly: httpOnly === true,
      secure: secure === true,
      sameSite: site === 'strict' || site === 'lax' || site === 'none' ? site : 'unset',
      partitioned: partitioned === true,
    },
  };
}

/** Why Chromium refuses a cookie, in words; what is not listed is told as the browser names it. */
export function blockedCookieWords(reasons: readonly string[]): string {
  return reasons.map((r) => BLOCKED[r] ?? r).join('; ');
}

const BLOCKED: Readonly<Record<string, string>> = {
  SecureOnly: 'Secure, on a connection that is not',
  SameSiteStrict: 'SameSite=Strict, from another site',
  SameSiteLax: 'SameSite=Lax, from another site',
  SameSiteUnspecifiedTreatedAsLax: 'no SameSite, which counts as Lax, from another site',
  SameSiteNoneInsecure: 'SameSite=None without Secure',
  UserPreferences: 'the browser’s settings block it',
  ThirdPartyBlockedInFirstPartySet: 'the browser’s settings block it',
  ThirdPartyPhaseout: 'third-party cookies are phased out',
  SyntaxError: 'it cannot be read',
  SchemeNotSupported: 'this kind of address takes no cookies',
  OverwriteSecure: 'it would replace a Secure cookie',
  InvalidDomain: 'its Domain is not that of the sender',
  InvalidPrefix: 'its name’s prefix asks for more than it gives',
  NameValuePairExceedsMaxSize: 'it is too long',
  DisallowedCharacter: 'it holds a character that is not allowed',
  NoCookieContent: 'it is empty',
};
