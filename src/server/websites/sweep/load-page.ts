import type { Page } from 'playwright-core';

export interface Loaded {
  readonly sound: boolean;
  /** HTTP status; `null` where there was no answer. */
  readonly status: number | null;
  /** What was the matter, as the officer reads it; empty where nothing was. */
  readonly note: string;
}

const PAGE_MS = 20_000;

export async function load(page: Page, url: string): Promise<Loaded> {
  try {
    const response = await page.goto(url, { waitUntil: 'load', timeout: PAGE_MS });
    const status = response?.status() ?? null;
    return { sound: true, status, note: status !== null && status >= 400 ? `Answered ${status}` : '' };
  } catch (error) {
    const text = (error as Error).message;
    if (/ERR_ABORTED|Download is starting/.test(text))
      return { sound: true, status: null, note: 'A download, not a page' };
    const timedOut = /Timeout/.test(text);
    return {
      sound: false,
      status: null,
      note: timedOut ? 'Did not finish loading in 20 seconds' : loadFailure(text),
    };
  }
}

const FAILURES: Readonly<Record<string, string>> = {
  ERR_TOO_MANY_REDIRECTS: 'Redirects in a circle',
  ERR_CONNECTION_REFUSED: 'Nothing answers there',
  ERR_CERT_AUTHORITY_INVALID: 'Its certificate is not trusted',
  ERR_CERT_DATE_INVALID: 'Its certificate has run out',
  ERR_CERT_COMMON_NAME_INVALID: 'Its certificate is for another name',
  ERR_EMPTY_RESPONSE: 'Closed without an answer',
  ERR_TIMED_OUT: 'Never answered',
  ERR_CONTENT_LENGTH_MISMATCH: 'Too large: cut off',
  ERR_INCOMPLETE_CHUNKED_ENCODING: 'Too large: cut off',
};

function loadFailure(text: string): string {
  const code = /net::(ERR_[A-Z_]+)/.exec(text)?.[1];
  return code ? (FAILURES[code] ?? `Could not be loaded (${code})`) : 'Could not be loaded';
}
