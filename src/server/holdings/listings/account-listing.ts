import { storeOf, StorePage, type Store, type StoreFault } from '../../../core/holdings/listings/store.ts';
import type { ListingAddress } from '../../../core/holdings/listings/listing.ts';
import { askJson, nextPage } from '../../http/ask-json.ts';
import { AskError, reachable } from '../../http/checked-request.ts';
import type { Settings } from '../../settings.ts';
import { SourceError } from '../connectors/connector.ts';

type AccountAddress = Extract<ListingAddress, { kind: 'account' }>;

export const MOST_STORES = 20_000;
const MOST_PAGES = 2000;
const MOST_PAGE_BYTES = 8e6;

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
  limits: { signal?: AbortSignal; mostPages?: number } = {},
): Promise<ListedStores> {
  try {
    return await readPages(settings, address, key, limits);
  } catch (error) {
    throw asSourceError(error);
  }
}

async function readPages(
  settings: Settings,
  address: AccountAddress,
  key: string,
  { signal, mostPages = MOST_PAGES }: { signal?: AbortSignal; mostPages?: number },
): Promise<ListedStores> {
  const first = new URL(address.url);
  const to = await reachable(settings, first);
  const stores: Store[] = [];
  const faults: StoreFault[] = [];
  const asked = new Set<string>();
  for (let url = first, pages = 0; ;) {
    signal?.throwIfAborted();
    asked.add(url.href);
    const page = StorePage.safeParse(await ask(url, to, address, key));
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

async function ask(
  url: URL,
  connectTo: string,
  { certificate }: AccountAddress,
  key: string,
): Promise<unknown> {
  const { status, body } = await askJson(url, connectTo, {
    headers: { authorization: `Bearer ${key}` },
    certificate,
    mostBytes: MOST_PAGE_BYTES,
  });
  if (status === 401 || status === 403)
    throw new SourceError('The account does not take this key.', 'secret');
  if (status !== 200) throw new SourceError(`${url.host} answered ${status} instead of a listing.`, 'url');
  return body;
}

/** What keeps a listing from being asked for, as a source tells it. */
function asSourceError(error: unknown): unknown {
  return error instanceof AskError
    ? new SourceError(error.message, error.about === 'certificate' ? 'certificate' : 'url')
    : error;
}
