import { createHash } from 'node:crypto';
import { z } from 'zod';
import { itemFact, itemVocabulary, type ItemRow } from '../../../core/holdings/offers.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { holds } from '../../../core/lens/lens-item.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { ClockContent } from '../../../core/retention/clock/clock-content.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import { dayInText, dayOfItem, MarkedDays } from '../../../core/retention/clock/name-days.ts';
import type { Context } from '../../context.ts';
import { BLOCK_ITEMS, findItem, itemNames, itemRows, plainItemText } from '../../holdings/offers.ts';
import { BigId, Bytes, Count, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Clock = z.object({ id: z.number(), revision: z.number(), content: JsonColumn(ClockContent) });
type Clock = z.infer<typeof Clock>;

const AT_ONCE = 500;
/** Of one round, before others have a turn. */
const ROUND_MS = 8000;

/**
 * Has every clock look at the items that changed since it did, or at all where it says something else itself. Goes on where
 * it was the next time; what one item keeps from being read is looked for again once that changed.
 */
export async function windClocks(ctx: Context, now = Date.now): Promise<void> {
  const { store } = ctx;
  const clocks = await store.all(Clock, 'SELECT id, revision, content FROM retention_clock ORDER BY id');
  if (clocks.length === 0) return;
  const until = now() + ROUND_MS;
  const names = await itemNames(store);
  for (const clock of clocks) {
    const blocks = await store.all(
      z.object({ block: z.number(), revision: Count }),
      `SELECT b.block, b.revision FROM item_block b LEFT JOIN clock_block c ON c.clock_id = ? AND c.block = b.block
       WHERE c.revision IS NULL OR c.revision <> b.revision OR c.clock_revision <> ? ORDER BY b.block`,
      [clock.id, clock.revision],
    );
    if (blocks.length === 0) continue;
    const teller = await tellerOf(ctx, clock);
    const faulty = lensFaults(clock.content.lens, itemVocabulary(names)).length > 0;
    for (const { block, revision } of blocks) {
      if (!(await windBlock(ctx, clock, faulty ? undefined : teller, block, () => now() > until))) return;
      await store.run(
        'REPLACE INTO clock_block (clock_id, block, revision, clock_revision) VALUES (?, ?, ?, ?)',
        [clock.id, block, revision, clock.revision],
      );
    }
  }
}

/** What a clock tells of an item, or nothing. */
type Teller = (item: ItemRow) => Promise<Day | undefined>;

async function tellerOf(ctx: Context, { id, content }: Clock): Promise<Teller> {
  switch (content.way) {
    case 'name':
      return (item) => Promise.resolve(dayOfItem(item.name, item.place));
    case 'list':
    case 'column': {
      const rows = await ctx.store.all(
        z.object({ mark: z.string(), day: z.string() }),
        'SELECT mark, day FROM clock_day WHERE clock_id = ?',
        [id],
      );
      const days = new MarkedDays(new Map(rows.map((r) => [r.mark, r.day])));
      return (item) => Promise.resolve(days.dayIn(item.name));
    }
    case 'found':
      return async (item) => {
        try {
          return dayInText(await plainItemText(ctx, await findItem(ctx.store, item.id)), content);
        } catch (error) {
          // It cannot be read now; once it changes, it is looked for again.
          if (error instanceof RefusedError) return undefined;
          throw error;
        }
      };
  }
}

/** Whether all of a block was looked at. */
async function windBlock(
  ctx: Context,
  clock: Clock,
  teller: Teller | undefined,
  block: number,
  isLate: () => boolean,
): Promise<boolean> {
  const { store } = ctx;
  const today = ctx.now().toISOString().slice(0, 10);
  for (let last = block * BLOCK_ITEMS - 1; ;) {
    const rows = await store.all(
      z.object({ id: BigId.transform(Number), stamp: z.string(), seen: Bytes.nullable() }),
      `SELECT i.id, CONCAT_WS(' ', i.version, i.place_id, i.name, i.title, HEX(i.content_hash), i.document, i.people) AS stamp, c.seen
       FROM item i LEFT JOIN item_clock c ON c.clock_id = ? AND c.item_id = i.id
       WHERE i.id > ? AND i.id < ? AND i.state <> 'gone' ORDER BY i.id LIMIT ?`,
      [clock.id, last, (block + 1) * BLOCK_ITEMS, AT_ONCE],
    );
    if (rows.length === 0) break;
    const stale = rows.flatMap((r) => {
      const seen = createHash('sha256').update(`${clock.revision} ${r.stamp}`).digest().subarray(0, 16);
      return r.seen?.equals(seen) ? [] : [{ id: r.id, seen }];
    });
    const items = await itemRows(
      store,
      stale.map((s) => s.id),
    );
    const told: (readonly [number, number, Day | null, Buffer])[] = [];
    const left: number[] = [];
    for (const { id, seen } of stale) {
      const item = items.get(id);
      if (!item) continue;
      if (teller && holds(clock.content.lens, (fact) => itemFact(item, fact), today))
        told.push([clock.id, id, (await teller(item)) ?? null, seen]);
      else left.push(id);
      if (told.length > 0 && isLate()) break;
    }
    await writeTold(store, clock.id, told, left);
    if (isLate()) return false;
    last = rows.at(-1)?.id ?? last;
  }
  return true;
}

async function writeTold(
  store: Queries,
  clock: number,
  told: readonly (readonly [number, number, Day | null, Buffer])[],
  left: readonly number[],
): Promise<void> {
  if (told.length > 0)
    await store.run(
      'INSERT INTO item_clock (clock_id, item_id, day, seen) VALUES ? ON DUPLICATE KEY UPDATE day = VALUES(day), seen = VALUES(seen)',
      [told],
    );
  if (left.length > 0)
    await store.run('DELETE FROM item_clock WHERE clock_id = ? AND item_id IN (?)', [clock, left]);
}
