import { pause } from '../../../processes/pause.ts';
import { within } from '../../../processes/within.ts';
import { NO_ANSWER } from '../browser/outbound-proxy.ts';
import type { PageProbe } from './page-probe.ts';

export interface Loaded {
  readonly sound: boolean;
  /** HTTP status; `null` where there was no answer. */
  readonly status: number | null;
  /** What was the matter, as the officer reads it; empty where nothing was. */
  readonly note: string;
  /** The line failed, not the page: asked for again it may come. */
  readonly lost: boolean;
}

const PAGE_MS = 20_000;
/** What a page holds may take longer than the page. */
const WHOLE_MS = 8_000;
/** Without anything asked for or written. */
const REST_MS = 600;

/**
 * Opens a page and waits for it and all that it holds. One that waits for something that never answers is stopped, and is
 * as sound as a visitor finds it.
 */
export async function load(
  probe: Pick<PageProbe, 'page' | 'session' | 'settled'>,
  url: string,
): Promise<Loaded> {
  const { page, session } = probe;
  const until = Date.now() + PAGE_MS;
  let status: number | null = null;
  let lost = false;
  try {
    const response = await page.goto(url, { waitUntil: 'commit', timeout: PAGE_MS });
    status = response?.status() ?? null;
    lost = status === 502 && response?.headers()['x-yare-refused'] === NO_ANSWER;
  } catch (error) {
    const text = (error as Error).message;
    if (/ERR_ABORTED|Download is starting/.test(text))
      return { sound: true, status: null, note: 'A download, not a page', lost: false };
    const note = /Timeout/.test(text) ? TOO_LONG : loadFailure(text);
    return { sound: false, status: null, note, lost: LOST.test(text) };
  }
  const reached = (state: 'domcontentloaded' | 'load', ms: number) =>
    page.waitForLoadState(state, { timeout: Math.max(1, ms) }).then(
      () => true,
      () => false,
    );
  const read = await reached('domcontentloaded', until - Date.now());
  // A picture that gets no answer keeps a page from being whole, and from nothing else.
  const atRest = async () => {
    const rests = await probe.settled(REST_MS, WHOLE_MS);
    return rests && (await reached('load', 1));
  };
  const whole = read && (await Promise.race([reached('load', WHOLE_MS), atRest()]));
  if (!whole) await within(2000, session.send('Page.stopLoading'), undefined);
  const answered = status !== null && status >= 400 ? `Answered ${status}` : '';
  return { sound: true, status, note: answered || (read ? (whole ? '' : NEVER_WHOLE) : TOO_LONG), lost };
}

/** As `load`, and once more where the line failed: for a page without which nothing goes on. */
export async function loadSurely(
  probe: Pick<PageProbe, 'page' | 'session' | 'settled'>,
  url: string,
): Promise<Loaded> {
  const loaded = await load(probe, url);
  if (!loaded.lost) return loaded;
  await pause(AGAIN_MS);
  return load(probe, url);
}

const AGAIN_MS = 400;

/** How the line of a page fails without the page being at fault. */
const LOST =
  /ERR_(?:CONNECTION_(?:RESET|CLOSED|ABORTED|FAILED)|EMPTY_RESPONSE|HTTP_RESPONSE_CODE_FAILURE|SOCKET_NOT_CONNECTED|NETWORK_CHANGED|TUNNEL_CONNECTION_FAILED|PROXY_CONNECTION_FAILED|TIMED_OUT)/;

const TOO_LONG = 'Did not finish loading in 20 seconds';
const NEVER_WHOLE = 'Something on it never finished loading';

const FAILURES: Readonly<Record<string, string>> = {
  ERR_TOO_MANY_REDIRECTS: 'Redirects in a circle',
  ERR_CONNECTION_REFUSED: 'Nothing answers there',
  ERR_CERT_AUTHORITY_INVALID: 'Its certificate is not trusted',
  ERR_CERT_DATE_INVALID: 'Its certificate has run out',
  ERR_CERT_COMMON_NAME_INVALID: 'Its certificate is for another name',
  ERR_EMPTY_RESPONSE: 'Closed without an answer',
  ERR_HTTP_RESPONSE_CODE_FAILURE: 'Answered with an error, or not at all',
  ERR_TIMED_OUT: 'Never answered',
  ERR_CONTENT_LENGTH_MISMATCH: 'Too large: cut off',
  ERR_INCOMPLETE_CHUNKED_ENCODING: 'Too large: cut off',
};

function loadFailure(text: string): string {
  const code = /net::(ERR_[A-Z_]+)/.exec(text)?.[1];
  return code ? (FAILURES[code] ?? `Could not be loaded (${code})`) : 'Could not be loaded';
}
