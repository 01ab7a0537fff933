import { readFile } from 'node:fs/promises';
import { asItemErrors } from '../connectors/file-tree.ts';
import { ItemError, type Connector, type ListedItem } from '../connectors/connector.ts';
import { sha256 } from './kept-copy.ts';
import type { ItemDetail } from './item-view.ts';

/** An item as its source has it now. */
export interface Fetched {
  readonly listed: ListedItem;
  readonly bytes: Uint8Array;
  readonly hash: Buffer;
  /** What tells its format: that of a file, `message.eml`, `table.csv`. */
  readonly format: string;
}

/** Larger ones are not fetched whole: all of one is in memory, twice. */
const MOST_BYTES = 100e6;

/** Throws an ItemError for what is gone or cannot be read. */
export async function fetchWhole(
  connector: Connector,
  item: Pick<ItemDetail, 'path' | 'name'>,
): Promise<Fetched> {
  const [listed] = await connector.details(item.path, [item.name]);
  if (!listed) throw new ItemError('it is gone');
  if (listed.size > MOST_BYTES) throw new ItemError(`it is larger than ${MOST_BYTES / 1e6} MB`);
  const content = await connector.read(item.path, listed);
  const bytes =
    'bytes' in content
      ? content.bytes
      : await asItemErrors(() => readFile(Buffer.from(content.file as Uint8Array)));
  return { listed, bytes, hash: sha256(bytes), format: content.name };
}

/** Puts other bytes in a item's place, and reads them back. Throws an ItemError; what was read back wrong is as it was. */
export async function replaceWhole(
  connector: Connector,
  item: Pick<ItemDetail, 'path' | 'name'>,
  was: Fetched,
  made: Uint8Array,
): Promise<Fetched> {
  if (!connector.replace) throw new ItemError('its source takes no changes');
  const listed = await connector.replace(item.path, was.listed, made);
  // Some sources give what is new a name of its own.
  const now = await fetchWhole(connector, { ...item, name: listed.name });
  if (now.hash.equals(sha256(made))) return now;
  await connector.replace(item.path, listed, was.bytes);
  throw new ItemError('what was written was not what was read back, and it is as it was');
}
