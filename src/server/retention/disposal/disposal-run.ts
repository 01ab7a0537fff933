import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import type { Context } from '../../context.ts';
import {
  connectSource,
  fetchWhole,
  findItem,
  findSource,
  FixedItemError,
  ItemError,
  itemNames,
  keepCopy,
  removeCopy,
  renameItem,
  replaceWhole,
  sha256,
  touchBlocks,
  type Connector,
  type Fetched,
  type ItemDetail,
  type ListedItem,
} from '../../holdings/offers.ts';
import type { LookedPart, RunKind, Step, Stepping } from '../../runs/run-kind.ts';
import { BigId, Bytes, Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { judgeItems } from '../items/item-retention.ts';
import { guardItems } from '../policy.ts';
import { retentionWeighing } from '../weighing.ts';
import { anonymousBytes, type Anonymous } from './anonymous-bytes.ts';
import { openArchive, type Archive, type Moved } from './archive.ts';
import { forgetFindings } from './forget.ts';
import { findDisposal, type DisposalItemState, type DisposalRow } from './disposals.ts';
import { endDisposal } from './say.ts';

const Plan = z.strictObject({ disposal: z.string() });
type Plan = z.infer<typeof Plan>;

const STEP_MS = 3000;
const STEP_ITEMS = 40;
/** Looked at and let go under one guard: whoever places a hold waits no longer than these take. */
const TOGETHER = 8;

/** An item that was fetched, and that this worker is about to let go. */
interface Ready {
  readonly item: ItemDetail;
  readonly fetched: Fetched;
  readonly copy: number | null;
  /** What is to stand in its place; null where it goes. */
  readonly anonymous: Anonymous | null;
}

/** What became of an item. */
interface Became {
  readonly item: number;
  readonly name: string;
  readonly state: Extract<DisposalItemState, 'kept' | 'aside' | 'gone' | 'failed'>;
  readonly why: string;
  readonly bytes: number;
}

/**
 * Letting go of what was agreed to. Every item is looked at once more at the moment it goes: whether it is what was looked
 * at, whether the same version of the same rule still says so, and whether no hold came. What a killed worker had begun is
 * settled by the next: the item is there, whole, or gone.
 *
 * Its own rows are written as it goes, not with the place of the run: they tell what happened outside, where nothing can be
 * taken back.
 */
export const DISPOSAL_RUN: RunKind<Plan> = {
  kind: 'disposal-run',
  lane: 'long',
  see: 'retention.read',
  start: 'retention.dispose',
  wholeOf: ['source'],
  plan: Plan,
  place: ({ object_id }) => `/retention/disposals/${object_id}`,
  guess: { perItem: 0.02, perByte: 1e-7 },
  async look(ctx, { disposal }) {
    const names = await itemNames(ctx.store);
    const rows = await ctx.store.all(
      z.object({ source_id: BigId, items: Count, bytes: Count }),
      `SELECT source_id, COUNT(*) AS items, SUM(size) AS bytes FROM disposal_item
       WHERE disposal_id = ? AND state IN ('waiting', 'begun') GROUP BY source_id ORDER BY source_id`,
      [disposal],
    );
    return rows.map((r): LookedPart => ({
      part: r.source_id,
      words: names.sources.get(r.source_id) ?? r.source_id,
      items: r.items,
      bytes: r.bytes,
    }));
  },
  step: letSomeGo,
  outcome: async (tx, ctx, run) => {
    const { disposal } = Plan.parse(run.plan);
    const counts = await tx.all(
      z.object({ state: z.string(), n: Count }),
      'SELECT state, COUNT(*) AS n FROM disposal_item WHERE disposal_id = ? GROUP BY state',
      [disposal],
    );
    const of = Object.fromEntries(counts.map((c) => [c.state, c.n]));
    // What was cancelled, or failed as a whole, waits for another run.
    if ((of['waiting'] ?? 0) + (of['begun'] ?? 0) === 0) await endDisposal(tx, ctx, disposal, 'done');
    else
      await tx.run("UPDATE disposal SET state = 'agreed', run_id = NULL WHERE id = ? AND state = 'running'", [
        disposal,
      ]);
    return of;
  },
};

export const ANY_DISPOSAL_RUN = DISPOSAL_RUN as unknown as RunKind<unknown>;

/** What a step works with. */
interface Open {
  readonly connector: Connector;
  readonly disposal: DisposalRow;
  /** Opened once something is moved there. */
  archive: Archive | undefined;
}

async function letSomeGo(ctx: Context, { plan, part: source, signal }: Stepping<Plan>): Promise<Step> {
  const disposal = await findDisposal(ctx.store, plan.disposal);
  const connector = await connectSource(ctx, await findSource(ctx.store, Number(source)));
  const open: Open = { connector, disposal, archive: undefined };
  const done: Became[] = [];
  const begun = Date.now();
  let isEnd = false;
  try {
    done.push(...(await settleBegun(ctx, open, source)));
    while (!signal.aborted && Date.now() - begun < STEP_MS && done.length < STEP_ITEMS) {
      const ids = await waiting(ctx.store, disposal.id, source);
      isEnd = ids.length === 0;
      if (isEnd) break;
      done.push(...(await letGo(ctx, open, ids)));
    }
  } finally {
    await connector.close();
    await open.archive?.close();
  }
  return {
    items: done.length,
    bytes: done.reduce((n, d) => n + d.bytes, 0),
    results: done.map((d): Json => ({ is: d.state, item: d.item, name: d.name.slice(0, 300), why: d.why })),
    place: isEnd ? null : 1,
    share: isEnd ? 1 : null,
  };
}

async function waiting(store: Queries, disposal: string, source: string): Promise<readonly number[]> {
  const rows = await store.all(
    z.object({ item_id: BigId.transform(Number) }),
    "SELECT item_id FROM disposal_item WHERE disposal_id = ? AND source_id = ? AND state = 'waiting' ORDER BY item_id LIMIT ?",
    [disposal, source, TOGETHER],
  );
  return rows.map((r) => r.item_id);
}

/**
 * What a worker that died had begun: it is gone, and that is written; or it is there, and waits again. Rows that a living one
 * holds are passed over; what it began and does not hold yet is not its own any more.
 */
async function settleBegun(
  ctx: Context,
  { connector, disposal }: Open,
  source: string,
): Promise<readonly Became[]> {
  const settled: Became[] = [];
  for (let last = 0; ;) {
    const done = await ctx.store.transaction(async (tx) => {
      const [row] = await tx.all(
        z.object({
          item_id: BigId.transform(Number),
          copy_id: BigId.nullable(),
          size: Count,
          left_hash: Bytes.nullable(),
        }),
        `SELECT item_id, copy_id, size, left_hash FROM disposal_item WHERE disposal_id = ? AND source_id = ? AND state = 'begun' AND item_id > ?
         ORDER BY item_id LIMIT 1 FOR UPDATE SKIP LOCKED`,
        [disposal.id, source, last],
      );
      if (!row) return undefined;
      const item = await findItem(tx, row.item_id);
      const there = await whatIsThere(connector, item, row.left_hash);
      const became: Became = {
        item: row.item_id,
        name: item.title ?? item.name,
        state: row.copy_id === null ? 'gone' : 'aside',
        why: '',
        bytes: row.size,
      };
      if (there.is === 'gone')
        await writeGone(tx, ctx, disposal, became, 'gone when it was looked for again', null);
      else if (there.is === 'anonymous')
        await writeAnonymous(
          tx,
          ctx,
          disposal,
          became,
          'found anonymous when it was looked at again',
          there.listed,
        );
      else {
        await tx.run(
          "UPDATE disposal_item SET state = 'waiting', copy_id = NULL, hash = NULL, left_hash = NULL, claim = NULL WHERE disposal_id = ? AND item_id = ?",
          [disposal.id, row.item_id],
        );
        if (row.copy_id !== null) await removeCopy(tx, row.copy_id);
      }
      return { item: row.item_id, became: there.is === 'whole' ? undefined : became };
    });
    if (!done) return settled;
    last = done.item;
    if (done.became) settled.push(done.became);
  }
}

/** How an item is found: gone; with what was to stand in its place; or as anybody left it. */
async function whatIsThere(
  connector: Connector,
  item: Pick<ItemDetail, 'path' | 'name'>,
  left: Uint8Array | null,
): Promise<{ readonly is: 'gone' | 'whole' } | { readonly is: 'anonymous'; readonly listed: ListedItem }> {
  const [listed] = await connector.details(item.path, [item.name]);
  if (!listed) return { is: 'gone' };
  if (left === null) return { is: 'whole' };
  const { hash } = await fetchWhole(connector, item);
  return hash.equals(left) ? { is: 'anonymous', listed } : { is: 'whole' };
}

async function letGo(ctx: Context, open: Open, ids: readonly number[]): Promise<readonly Became[]> {
  const { connector, disposal } = open;
  const claim = randomBytes(16);
  const became: Became[] = [];
  const ready = new Map<number, Ready>();
  for (const id of ids) {
    const prepared = await prepare(ctx, open, id, claim);
    if (!prepared) continue;
    if ('state' in prepared) became.push(prepared);
    else ready.set(id, prepared);
  }
  if (ready.size === 0) return became;
  const found = await ctx.store.transaction(async (tx) => {
    await guardItems(tx, 'let go');
    const mine = await tx.all(
      z.object({ item_id: BigId.transform(Number) }),
      "SELECT item_id FROM disposal_item WHERE disposal_id = ? AND item_id IN (?) AND state = 'begun' AND claim = ? ORDER BY item_id FOR UPDATE",
      [disposal.id, [...ready.keys()], claim],
    );
    const all: Became[] = [];
    const left: Ready[] = [];
    for (const { item_id } of mine) {
      const one = ready.get(item_id) as Ready;
      // A transaction that lost to another is run again: what it took away stays away, whoever came meanwhile.
      const there = await whatIsThere(connector, one.item, one.anonymous && sha256(one.anonymous.bytes));
      if (there.is === 'anonymous') all.push(await anonymousNow(tx, ctx, disposal, one, there.listed));
      else if (there.is === 'whole') left.push(one);
      else all.push(await goneNow(tx, ctx, disposal, one, 'gone when it was looked for', null));
    }
    const kept = await keptBy(tx, ctx, disposal, left);
    for (const one of left) {
      const why = kept.get(Number(one.item.id));
      all.push(
        why === undefined
          ? await carryOut(tx, ctx, open, one)
          : await leftNow(tx, ctx, disposal, one, 'kept', why),
      );
    }
    return all;
  });
  return [...became, ...found];
}

/** Fetches an item, compares it with what was looked at, and claims it; nothing where another worker has it. */
async function prepare(
  ctx: Context,
  { connector, disposal }: Open,
  id: number,
  claim: Buffer,
): Promise<Ready | Became | undefined> {
  const item = await findItem(ctx.store, id);
  const left = async (state: 'kept' | 'failed', why: string): Promise<Became | undefined> => {
    const { changed } = await ctx.store.run(
      "UPDATE disposal_item SET state = ?, why = ?, at = ? WHERE disposal_id = ? AND item_id = ? AND state = 'waiting'",
      [state, why.slice(0, 400), toDatetime(ctx.now()), disposal.id, id],
    );
    return changed === 0 ? undefined : { item: id, name: item.title ?? item.name, state, why, bytes: 0 };
  };
  const isAnonymised = disposal.follows === 'anonymise';
  if (!(isAnonymised ? connector.replace : connector.remove))
    return left('failed', 'Its source takes no changes.');
  try {
    const fetched = await fetchWhole(connector, item);
    const { listed, bytes, hash } = fetched;
    const isSame =
      item.content_hash === null ? listed.version === item.version : item.content_hash.equals(hash);
    if (!isSame) return await left('kept', 'It was changed since it was looked at.');
    const anonymous = isAnonymised ? await anonymousBytes(ctx, connector, item.path, fetched) : null;
    const leftHash = anonymous && sha256(anonymous.bytes);
    if (leftHash?.equals(hash)) return await left('kept', 'Nothing personal was found in it.');
    return await ctx.store.transaction(async (tx) => {
      const { changed } = await tx.run(
        "UPDATE disposal_item SET state = 'begun', claim = ?, hash = ?, left_hash = ?, size = ?, at = ? WHERE disposal_id = ? AND item_id = ? AND state = 'waiting'",
        [claim, hash, leftHash, bytes.length, toDatetime(ctx.now()), disposal.id, id],
      );
      if (changed === 0) return undefined;
      if (disposal.undo_days === 0) return { item, fetched, anonymous, copy: null };
      // Kept well past the day up to which it can be put back, in case nobody comes by then.
      const keptUntil = new Date(ctx.now().getTime() + (disposal.undo_days + SPARE_DAYS) * 86_400_000);
      const copy = await keepCopy(tx, ctx, bytes, keptUntil);
      await tx.run('UPDATE disposal_item SET copy_id = ? WHERE disposal_id = ? AND item_id = ?', [
        copy,
        disposal.id,
        id,
      ]);
      return { item, fetched, anonymous, copy };
    });
  } catch (error) {
    if (!(error instanceof ItemError)) throw error;
    return left('failed', asSentence(error.message));
  }
}

const SPARE_DAYS = 60;

/** Why some of these stay after all, as things are at this moment; those that go are left out. */
async function keptBy(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  ready: readonly Ready[],
): Promise<ReadonlyMap<number, string>> {
  const weighing = await retentionWeighing(ctx, 'in force', tx);
  const ids = ready.map((r) => Number(r.item.id));
  const judged = await judgeItems(tx, weighing, ids);
  const version = disposal.rule_version === 0 ? 0 : weighing.contents.get(disposal.rule_id)?.version;
  return new Map(
    ids.flatMap((id): [number, string][] => {
      const verdict = judged.get(id)?.verdict;
      if (!verdict) return [[id, 'It is not held any more.']];
      if (verdict.state === 'held') {
        const names = weighing.holds.filter((h) => verdict.holds.includes(h.id)).map((h) => `“${h.name}”`);
        return [[id, `It is held by ${names.join(', ')}.`]];
      }
      if (verdict.state !== 'due') return [[id, 'It is not due any more.']];
      const by = verdict.by ?? '';
      const isSame = disposal.rule_id === by && version === disposal.rule_version;
      return isSame ? [] : [[id, 'Another rule, or another version of it, decides by now.']];
    }),
  );
}

/** Does what follows to one item: it goes, moves to the archive, or is made anonymous. */
async function carryOut(tx: Queries, ctx: Context, open: Open, one: Ready): Promise<Became> {
  const { connector, disposal } = open;
  const { item, fetched, anonymous } = one;
  try {
    if (anonymous) {
      const now = await replaceWhole(connector, item, fetched, anonymous.bytes);
      return await anonymousNow(tx, ctx, disposal, one, now.listed);
    }
    if (!connector.remove) throw new FixedItemError('its source takes no changes');
    let moved: Moved | undefined;
    if (disposal.follows === 'archive') {
      open.archive ??= await openArchive(ctx);
      moved = await open.archive.keep(item, fetched);
    }
    const removed = await connector.remove(item.path, fetched.listed);
    // Nobody is believed that it is gone: it is looked for.
    const [still] = await connector.details(item.path, [item.name]);
    if (still) throw new ItemError('its source still has it after it was taken away');
    return moved
      ? await goneNow(tx, ctx, disposal, one, `moved to ${open.archive?.name ?? 'the archive'}`, {
          moved,
          of: removed.mark,
        })
      : await goneNow(tx, ctx, disposal, one, removed.method, removed.mark);
  } catch (error) {
    if (!(error instanceof ItemError)) throw error;
    return leftNow(tx, ctx, disposal, one, 'failed', asSentence(error.message));
  }
}

async function goneNow(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  one: Ready,
  method: string,
  mark: Json,
): Promise<Became> {
  const became = overOf(one);
  await writeGone(tx, ctx, disposal, became, method, mark);
  return became;
}

async function anonymousNow(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  one: Ready,
  listed: ListedItem,
): Promise<Became> {
  const became = overOf(one);
  await writeAnonymous(tx, ctx, disposal, became, one.anonymous?.method ?? '', listed);
  return became;
}

function overOf({ item, fetched: { listed }, copy }: Ready): Became {
  return {
    item: Number(item.id),
    name: item.title ?? item.name,
    state: copy === null ? 'gone' : 'aside',
    why: '',
    bytes: listed.size,
  };
}

/** Of rows that this transaction holds. */
async function writeGone(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  became: Became,
  method: string,
  mark: Json,
): Promise<void> {
  await writeOver(tx, ctx, disposal, became, method, mark);
  await tx.run("UPDATE item SET state = 'gone' WHERE id = ?", [became.item]);
  await touchBlocks(tx, [became.item]);
}

/** It is there still, and what was found in it is not: it is read anew by the next survey. */
async function writeAnonymous(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  became: Became,
  method: string,
  listed: ListedItem,
): Promise<void> {
  await writeOver(tx, ctx, disposal, became, method, null);
  await forgetFindings(tx, [became.item]);
  await tx.run("UPDATE item SET version = '', content_hash = NULL, size = ? WHERE id = ?", [
    listed.size,
    became.item,
  ]);
  if (listed.name !== (await findItem(tx, became.item)).name) await renameItem(tx, became.item, listed.name);
  await touchBlocks(tx, [became.item]);
}

async function writeOver(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  { item, state }: Became,
  method: string,
  mark: Json,
): Promise<void> {
  const now = ctx.now();
  await tx.run(
    'UPDATE disposal_item SET state = ?, claim = NULL, method = ?, mark = ?, aside_until = ?, at = ? WHERE disposal_id = ? AND item_id = ?',
    [
      state,
      method.slice(0, 60),
      JSON.stringify(mark),
      state === 'aside' ? toDatetime(new Date(now.getTime() + disposal.undo_days * 86_400_000)) : null,
      toDatetime(now),
      disposal.id,
      item,
    ],
  );
}

async function leftNow(
  tx: Queries,
  ctx: Context,
  disposal: DisposalRow,
  { item, copy }: Ready,
  state: 'kept' | 'failed',
  why: string,
): Promise<Became> {
  await tx.run(
    'UPDATE disposal_item SET state = ?, claim = NULL, why = ?, copy_id = NULL, at = ? WHERE disposal_id = ? AND item_id = ?',
    [state, why.slice(0, 400), toDatetime(ctx.now()), disposal.id, item.id],
  );
  if (copy !== null) await removeCopy(tx, copy);
  return { item: Number(item.id), name: item.title ?? item.name, state, why, bytes: 0 };
}
