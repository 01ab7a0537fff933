import { request } from 'node:https';
import { storeOf, StorePage, type Store, type StoreFault } from '../../../core/holdings/listings/store.ts';
import type { ListingAddress } from '../../../core/holdings/listings/listing.ts';
import { destination, destinationRules } from '../../http/allowed-destination.ts';
import { readLimited } from '../../http/read-limited.ts';
import type { Settings } from '../../settings.ts';
import { SourceError } from '../connectors/connector.ts';

type AccountAddress = Extract<ListingAddress, { kind: 'account' }>;

export const MOST_STORES = 20_000;
const MOST_PAGES = 2000;
const MOST_PAGE_BYTES = 8e6;
const PATIENCE_MS = 30_000;

export interface ListedStores {
  readonly stores: readonly Store[];
  readonly faults: readonly StoreFault[];
}

/**
 * Reads an account's listing to its end, page by page. What cannot be taken of it is told, and the rest read. Throws a
 * SourceError where it cannot be read to the end: half a listing would make the other half look gone.
 */
export async function readAccount(
  settings: Settings,
  address: AccountAddress,
  key: string,
  { signal, mostPages = MOST_PAGES }: { signal?: AbortSignal; mostPages?: number } = {},
): Promise<ListedStores> {
  const first = new URL(address.url);
  const port = Number(first.port || 443);
  const to = await destination(first.hostname, port, destinationRules(settings));
  if ('refused' in to)
    throw new SourceError(
      `${to.refused}. An administrator can allow ${first.hostname}:${port} with ALLOWED_PRIVATE.`,
      'url',
    );
  const stores: Store[] = [];
  const faults: StoreFault[] = [];
  const asked = new Set<string>();
  for (let url = first, pages = 0; ;) {
    signal?.throwIfAborted();
    asked.add(url.href);
    const page = StorePage.safeParse(await ask(url, to.address, address, key));
    if (!page.success)
      throw new SourceError(
        'It answers, but with no listing of stores: a page has “stores”, a list, and “next”.',
        'url',
      );
    for (const told of page.data.stores) {
      const store = storeOf(told);
      if ('key' in store) stores.push(store);
      else faults.push(store);
    }
    if (stores.length + faults.length > MOST_STORES)
      throw new SourceError(`It names more than ${MOST_STORES} stores.`, 'url');
    const { next } = page.data;
    if (!next || ++pages >= mostPages) return { stores, faults };
    url = nextPage(first, url, next);
    if (asked.has(url.href)) throw new SourceError('Its pages lead in a circle.', 'url');
    if (pages >= MOST_PAGES) throw new SourceError(`It has more than ${MOST_PAGES} pages.`, 'url');
  }
}

/** The key goes to the server it was given for, and to no other that a page may name. */
function nextPage(first: URL, from: URL, next: string): URL {
  const url = URL.canParse(next, from) ? new URL(next, from) : undefined;
  if (url?.origin !== first.origin)
    throw new SourceError('Its next page is at another server; nothing was sent there.', 'url');
  return url;
}

async function ask(
  url: URL,
  connectTo: string,
  { certificate }: AccountAddress,
  key: string,
): Promise<unknown> {
  const response = await new Promise<import('node:http').IncomingMessage>((answered, failed) => {
    const asking = request(
      {
        host: connectTo,
        port: url.port || 443,
        path: `${url.pathname}${url.search}`,
        servername: url.hostname,
        headers: { host: url.host, accept: 'application/json', authorization: `Bearer ${key}` },
        agent: false,
        timeout: PATIENCE_MS,
        ...(certificate === '' ? {} : { ca: certificate }),
      },
      answered,
    );
    asking.on('timeout', () => asking.destroy(new Error(`it did not answer within ${PATIENCE_MS / 1000} s`)));
    asking.on('error', failed);
    asking.end();
  }).catch((error: Error & { code?: string }) => {
    throw askingError(url, error);
  });
  const { statusCode = 0, headers } = response;
  if (statusCode !== 200) {
    response.destroy();
    if (statusCode === 401 || statusCode === 403)
      throw new SourceError('The account does not take this key.', 'secret');
    throw new SourceError(`${url.host} answered ${statusCode} instead of a listing.`, 'url');
  }
  try {
    const body = await readLimited(
      response,
      headers['content-length'],
      MOST_PAGE_BYTES,
      `a page has more than ${MOST_PAGE_BYTES / 1e6} MB`,
    );
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body));
  } catch (error) {
    response.destroy();
    throw new SourceError(`${url.host} sent a page that cannot be read: ${(error as Error).message}.`, 'url');
  }
}

function askingError(url: URL, error: Error & { code?: string }): SourceError {
  if (error.code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${url.host}.`, 'url');
  if (/CERT|SELF_SIGNED|ISSUER|ALTNAME|SIGNATURE/.test(error.code ?? ''))
    return new SourceError(
      `No authority vouches for ${url.host} (${error.message}). Give the certificate that does.`,
      'certificate',
    );
  return new SourceError(`${url.host} could not be asked: ${error.message}.`, 'url');
}
