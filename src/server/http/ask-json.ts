import type { IncomingMessage } from 'node:http';
import { AskError, sendTo } from './checked-request.ts';
import { readLimited } from './read-limited.ts';

export interface JsonAnswer {
  readonly status: number;
  readonly headers: IncomingMessage['headers'];
  /** `undefined` where the answer has no body. */
  readonly body: unknown;
}

interface Asking {
  readonly method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: unknown;
  /** Of an authority that vouches for the server, in PEM; '' for those that everybody trusts. */
  readonly certificate?: string;
  readonly mostBytes?: number;
  readonly patienceMs?: number;
}

const MOST_BYTES = 8e6;
const PATIENCE_MS = 30_000;

/**
 * Asks another program for JSON at an address that was looked up. Any status is an answer; throws an AskError where there is
 * none that can be read.
 */
export async function askJson(url: URL, connectTo: string, asking: Asking = {}): Promise<JsonAnswer> {
  const { method = 'GET', headers, body, certificate = '' } = asking;
  const { mostBytes = MOST_BYTES, patienceMs = PATIENCE_MS } = asking;
  const sent = body === undefined ? undefined : Buffer.from(JSON.stringify(body));
  const response = await sendTo(url, connectTo, {
    ...{ method, certificate, patienceMs, body: sent },
    headers: {
      accept: 'application/json',
      ...(sent ? { 'content-type': 'application/json' } : {}),
      ...headers,
    },
  });
  try {
    const bytes = await readLimited(
      response,
      response.headers['content-length'],
      mostBytes,
      `a page has more than ${mostBytes / 1e6} MB`,
    );
    const status = response.statusCode ?? 0;
    if (bytes.length === 0) return { status, headers: response.headers, body: undefined };
    // What a refusal says besides need be no JSON.
    const isRefusal = status >= 400;
    try {
      const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
      return { status, headers: response.headers, body: JSON.parse(text) as unknown };
    } catch (error) {
      if (isRefusal) return { status, headers: response.headers, body: undefined };
      throw error;
    }
  } catch (error) {
    response.destroy();
    throw new AskError(`${url.host} sent a page that cannot be read: ${(error as Error).message}.`, 'answer');
  }
}

/** The key goes to the server it was given for, and to no other that a page may name. Throws an AskError. */
export function nextPage(first: URL, from: URL, next: string): URL {
  const url = URL.canParse(next, from) ? new URL(next, from) : undefined;
  if (url?.origin !== first.origin)
    throw new AskError('Its next page is at another server; nothing was sent there.', 'url');
  return url;
}
