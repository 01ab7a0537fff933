import { randomBytes } from 'node:crypto';
import { group } from 'd3-array';
import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import {
  connectSource,
  fetchWhole,
  findItem,
  findSource,
  ItemError,
  readCopy,
  removeCopy,
  renameItem,
  replaceWhole,
  SourceError,
  touchBlocks,
  type Connector,
  type ItemDetail,
  type ListedItem,
} from '../../holdings/offers.ts';
import { BigId, Bytes, Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { Moved, takeFromArchive } from './archive.ts';
import { findDisposal } from './disposals.ts';

/** Whoever puts one back for longer than this has died. */
const CLAIM_MS = 10 * 60_000;

const Aside = z.object({
  disposal_id: BigId,
  item_id: BigId.transform(Number),
  copy_id: BigId.nullable(),
  source_id: z.number(),
  claim: Bytes.nullable(),
  mark: JsonColumn(z.json()),
  hash: Bytes.nullable(),
  left_hash: Bytes.nullable(),
  size: Count,
});
type Aside = z.infer<typeof Aside>;
const COLUMNS = Object.keys(Aside.shape).join(', ');

export interface PutBack {
  readonly back: number;
  /** What was not put back, and why. */
  readonly left: readonly string[];
}

/**
 * Puts what went back where it was, as long as it is kept: all of a disposal, or some. Each is claimed first, so that it is
 * put back once, and does not end meanwhile. Throws a RefusedError where nothing of it is kept any more.
 */
export async function putBack(
  ctx: Context,
  account: { readonly id: number },
  id: string,
  items: readonly number[] | undefined,
): Promise<PutBack> {
  await findDisposal(ctx.store, id);
  const rows = await ctx.store.all(
    Aside,
    `SELECT ${COLUMNS} FROM disposal_item
     WHERE disposal_id = ? AND state = 'aside'${items ? ' AND item_id IN (?)' : ''} ORDER BY source_id, item_id`,
    [id, ...(items ? [items] : [])],
  );
  if (rows.length === 0)
    throw new RefusedError(
      'None of it can be put back any more.',
      [{ field: 'items', message: 'It is gone for good, or back already.' }],
      409,
    );
  let back = 0;
  const left: string[] = [];
  for (const [source, of] of group(rows, (r) => r.source_id))
    await withSource(ctx, source, left, async (connector) => {
      for (const row of of) {
        const why = await putOneBack(ctx, connector, row);
        if (why === undefined) back++;
        else left.push(why);
      }
    });
  await record(ctx.store, ctx.now(), {
    actor: account.id,
    action: 'disposal.put-back',
    object: 'disposal',
    objectId: id,
    detail: { back, left: left.length },
  });
  return { back, left };
}

/** Why it could not be; nothing where it is back. */
async function putOneBack(ctx: Context, connector: Connector, row: Aside): Promise<string | undefined> {
  const item = await findItem(ctx.store, row.item_id);
  const left = (why: string) => `${item.title ?? item.name}: ${why}.`;
  const claim = randomBytes(16);
  const { changed } = await ctx.store.run(
    "UPDATE disposal_item SET claim = ?, at = ? WHERE disposal_id = ? AND item_id = ? AND state = 'aside' AND claim IS NULL",
    [claim, toDatetime(ctx.now()), row.disposal_id, row.item_id],
  );
  if (changed === 0) return left('it is being put back, or is gone for good');
  try {
    const bytes = row.copy_id === null ? undefined : await readCopy(ctx, row.copy_id);
    if (!bytes) throw new ItemError('it is not kept any more');
    const { listed, moved } = await restored(connector, item, row, bytes);
    if (moved && row.hash) await takeFromArchive(ctx, moved, row.hash);
    await ctx.store.transaction((tx) => writeBack(tx, ctx, { ...row, claim }, listed));
    return undefined;
  } catch (error) {
    if (!(error instanceof ItemError)) throw error;
    await giveUp(ctx.store, { ...row, claim });
    return left(error.message);
  }
}

/** Where it was: taken out of the archive, or written over what was made anonymous. */
async function restored(
  connector: Connector,
  item: ItemDetail,
  { left_hash, mark, size }: Aside,
  bytes: Uint8Array,
): Promise<{ readonly listed: ListedItem; readonly moved?: Moved }> {
  if (left_hash) {
    const now = await fetchWhole(connector, item);
    if (!now.hash.equals(left_hash)) throw new ItemError('it was changed since it was made anonymous');
    return { listed: (await replaceWhole(connector, item, now, bytes)).listed };
  }
  if (!connector.restore) throw new ItemError('its source takes nothing back');
  const archived = Archived.safeParse(mark).data;
  const listed = await connector.restore(
    item.path,
    asListed(item, size),
    bytes,
    archived ? archived.of : mark,
  );
  return { listed, ...(archived ? { moved: archived.moved } : {}) };
}

const Archived = z.object({ moved: Moved, of: z.json() });

function asListed(item: ItemDetail, size: number): ListedItem {
  return {
    name: item.name,
    ...(item.title ? { title: item.title } : {}),
    size,
    created: item.created_at,
    changed: item.changed_at,
    owner: item.owner,
    version: item.version,
  };
}

/** What somebody who died had claimed: it is back, and that is written; or it can be put back again, and ends in its time. */
export async function settleReturning(ctx: Context): Promise<void> {
  const rows = await ctx.store.all(
    Aside,
    `SELECT ${COLUMNS} FROM disposal_item WHERE state = 'aside' AND claim IS NOT NULL AND at <= ? ORDER BY source_id, item_id LIMIT 200`,
    [toDatetime(new Date(ctx.now().getTime() - CLAIM_MS))],
  );
  for (const [source, of] of group(rows, (r) => r.source_id))
    // One that is away is asked the next time.
    await withSource(ctx, source, [], async (connector) => {
      for (const row of of) {
        const item = await findItem(ctx.store, row.item_id);
        const found = await fetchWhole(connector, item).catch((error: unknown) => {
          if (error instanceof ItemError) return undefined;
          throw error;
        });
        // What has its name by now may be something else.
        if (found && row.hash?.equals(found.hash))
          await ctx.store.transaction((tx) => writeBack(tx, ctx, row, found.listed));
        else await giveUp(ctx.store, row);
      }
    });
}

async function withSource(
  ctx: Context,
  source: number,
  left: string[],
  work: (connector: Connector) => Promise<void>,
): Promise<void> {
  let connector: Connector | undefined;
  try {
    connector = await connectSource(ctx, await findSource(ctx.store, source));
    await work(connector);
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    left.push(asSentence(error.message));
  } finally {
    await connector?.close();
  }
}

/** Nothing where the claim is another's by now. */
async function writeBack(tx: Queries, ctx: Context, row: Aside, listed: ListedItem): Promise<void> {
  const { changed } = await tx.run(
    "UPDATE disposal_item SET state = 'back', claim = NULL, copy_id = NULL, aside_until = NULL, at = ? WHERE disposal_id = ? AND item_id = ? AND state = 'aside' AND claim = ?",
    [toDatetime(ctx.now()), row.disposal_id, row.item_id, row.claim],
  );
  if (changed === 0) return;
  // What was made anonymous is to be read anew: nothing is known any more of what was in it.
  await tx.run("UPDATE item SET state = 'read', version = ? WHERE id = ?", [
    row.left_hash ? '' : listed.version,
    row.item_id,
  ]);
  await renameItem(tx, row.item_id, listed.name);
  await touchBlocks(tx, [row.item_id]);
  if (row.copy_id !== null) await removeCopy(tx, row.copy_id);
}

async function giveUp(store: Queries, { disposal_id, item_id, claim }: Aside): Promise<void> {
  await store.run(
    "UPDATE disposal_item SET claim = NULL WHERE disposal_id = ? AND item_id = ? AND state = 'aside' AND claim = ?",
    [disposal_id, item_id, claim],
  );
}
