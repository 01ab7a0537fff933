import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { destination, destinationRules } from './allowed-destination.ts';
import { readLimited } from './read-limited.ts';
import type { Settings } from '../settings.ts';

/** Why another program could not be asked, in words, and which part of how it is asked would have to be another. */
export class AskError extends Error {
  constructor(
    message: string,
    readonly about: 'url' | 'certificate' | 'answer',
  ) {
    super(message);
  }
}

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

/** Where a server may be asked, looked up once. Throws an AskError for one that may not. */
export async function reachable(settings: Settings, url: URL): Promise<string> {
  const port = Number(url.port || (url.protocol === 'https:' ? 443 : 80));
  const to = await destination(url.hostname, port, destinationRules(settings));
  if ('refused' in to)
    throw new AskError(
      `${to.refused}. An administrator can allow ${url.hostname}:${port} with ALLOWED_PRIVATE.`,
      'url',
    );
  return to.address;
}

/**
 * Asks another program for JSON at an address that was looked up. Any status is an answer; throws an AskError where there is
 * none that can be read.
 */
export async function askJson(url: URL, connectTo: string, asking: Asking = {}): Promise<JsonAnswer> {
  const { method = 'GET', headers, body, certificate = '' } = asking;
  const { mostBytes = MOST_BYTES, patienceMs = PATIENCE_MS } = asking;
  const sent = body === undefined ? undefined : Buffer.from(JSON.stringify(body));
  const isTls = url.protocol === 'https:';
  const response = await new Promise<IncomingMessage>((answered, failed) => {
    const out = (isTls ? httpsRequest : httpRequest)(
      {
        host: connectTo === 'localhost' ? '127.0.0.1' : connectTo,
        port: url.port || (isTls ? 443 : 80),
        path: `${url.pathname}${url.search}`,
        method,
        headers: {
          ...{ host: url.host, accept: 'application/json' },
          ...(sent ? { 'content-type': 'application/json', 'content-length': String(sent.length) } : {}),
          ...headers,
        },
        agent: false,
        timeout: patienceMs,
        ...(isTls ? { servername: url.hostname } : {}),
        ...(isTls && certificate !== '' ? { ca: certificate } : {}),
      },
      answered,
    );
    out.on('timeout', () => out.destroy(new Error(`it did not answer within ${patienceMs / 1000} s`)));
    out.on('error', failed);
    out.end(sent);
  }).catch((error: Error & { code?: string }) => {
    throw askingError(url, error);
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

function askingError(url: URL, error: Error & { code?: string }): AskError {
  if (error.code === 'ECONNREFUSED') return new AskError(`Nothing answers at ${url.host}.`, 'url');
  if (/CERT|SELF_SIGNED|ISSUER|ALTNAME|SIGNATURE/.test(error.code ?? ''))
    return new AskError(
      `No authority vouches for ${url.host} (${error.message}). Give the certificate that does.`,
      'certificate',
    );
  return new AskError(`${url.host} could not be asked: ${error.message}.`, 'url');
}

/** The key goes to the server it was given for, and to no other that a page may name. Throws an AskError. */
export function nextPage(first: URL, from: URL, next: string): URL {
  const url = URL.canParse(next, from) ? new URL(next, from) : undefined;
  if (url?.origin !== first.origin)
    throw new AskError('Its next page is at another server; nothing was sent there.', 'url');
  return url;
}
