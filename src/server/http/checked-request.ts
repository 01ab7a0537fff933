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

export interface Sending {
  readonly method: string;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: Uint8Array | undefined;
  /** Of an authority that vouches for the server, in PEM; '' for those that everybody trusts. */
  readonly certificate?: string;
  readonly patienceMs: number;
}

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

/** Asks another program at an address that was looked up; the answer is still to be read. Throws an AskError. */
export async function sendTo(
  url: URL,
  connectTo: string,
  { method, headers, body, certificate = '', patienceMs }: Sending,
): Promise<IncomingMessage> {
  const isTls = url.protocol === 'https:';
  return new Promise<IncomingMessage>((answered, failed) => {
    const out = (isTls ? httpsRequest : httpRequest)(
      {
        host: connectTo === 'localhost' ? '127.0.0.1' : connectTo,
        port: url.port || (isTls ? 443 : 80),
        path: `${url.pathname}${url.search}`,
        method,
        headers: {
          host: url.host,
          ...(body ? { 'content-length': String(body.length) } : {}),
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
    out.end(body);
  }).catch((error: Error & { code?: string }) => {
    throw askingError(url, error);
  });
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

const MOST_FETCHED = 2e6;
const FETCH_PATIENCE_MS = 15_000;

/** A `fetch` for libraries, which goes only where requests of this program may, and follows nobody anywhere. */
export function checkedFetch(settings: Settings): (
  url: string,
  options: {
    readonly method?: string;
    readonly headers?: Record<string, string>;
    readonly body?: unknown;
  },
) => Promise<Response> {
  return async (address, { method = 'GET', headers, body }) => {
    const url = new URL(address);
    const sent =
      body === undefined || body === null
        ? undefined
        : new Uint8Array(await new Response(body as BodyInit).arrayBuffer());
    const response = await sendTo(url, await reachable(settings, url), {
      ...{ method, body: sent, patienceMs: FETCH_PATIENCE_MS },
      ...(headers ? { headers } : {}),
    });
    const bytes = await readLimited(
      response,
      response.headers['content-length'],
      MOST_FETCHED,
      `The answer has more than ${MOST_FETCHED / 1e6} MB`,
    );
    const told = new Headers();
    for (const [name, value] of Object.entries(response.headers))
      for (const one of [value].flat()) if (one !== undefined) told.append(name, one);
    const status = response.statusCode ?? 502;
    return new Response(bytes.length === 0 ? null : new Uint8Array(bytes), { status, headers: told });
  };
}
