import { group } from 'd3-array';
import { z } from 'zod';
import { readFileLevel } from '../../../core/protection/stamp/stamp-file.ts';
import { UnstampableError, type CarriedLevel } from '../../../core/protection/stamp/marking.ts';
import { setByText } from '../../../core/protection/rules/verdict-words.ts';
import type { Context } from '../../context.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import {
  connectSource,
  findItem,
  findSource,
  ItemError,
  itemNames,
  SourceError,
  touchBlocks,
  fetchWhole,
} from '../../holdings/offers.ts';
import { BigId, Bytes, Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { levelRanks } from './levels.ts';

const Changed = z.object({
  item_id: BigId.transform(Number),
  source_id: z.number(),
  level: z.string(),
  content_hash: Bytes,
});
const PAGE = 200;

/**
 * Once surveys have ended, looks at documents that were stamped and are not as they were: one that carries its level still
 * is well; one that says a stronger level has that; one that says none, or a weaker, lost its marking, which Today tells.
 */
export async function findLostMarkings(ctx: Context): Promise<void> {
  const news = await ctx.store.one(
    z.object({ at: Instant.nullable(), looked: Instant.nullable() }),
    `SELECT (SELECT MAX(ended_at) FROM run WHERE kind = 'survey') AS at,
       (SELECT lost_looked_at FROM level_policy WHERE id = 1) AS looked`,
  );
  if (!news?.at || (news.looked && news.at <= news.looked)) return;
  const taken = await ctx.store.run(
    'UPDATE level_policy SET lost_looked_at = ? WHERE id = 1 AND (lost_looked_at IS NULL OR lost_looked_at < ?)',
    [toDatetime(news.at), toDatetime(news.at)],
  );
  if (taken.changed > 0) await lookAtChanged(ctx);
}

/** The same, now. */
export async function lookAtChanged(ctx: Context): Promise<void> {
  const sources = new Set<number>();
  for (let last = 0; ;) {
    const rows = await ctx.store.all(
      Changed,
      `SELECT l.item_id, i.source_id, l.level, i.content_hash FROM item_level l JOIN item i ON i.id = l.item_id
       WHERE l.item_id > ? AND l.stamped_hash IS NOT NULL AND l.lost = 0 AND i.state = 'read'
         AND i.content_hash IS NOT NULL AND i.content_hash <> l.stamped_hash ORDER BY l.item_id LIMIT ?`,
      [last, PAGE],
    );
    const end = rows.at(-1);
    if (!end) break;
    last = end.item_id;
    for (const [source, changed] of group(rows, (r) => r.source_id)) {
      sources.add(source);
      await lookAt(ctx, source, changed);
    }
  }
  for (const source of sources) await ctx.store.transaction((tx) => showLost(tx, ctx, source));
}

async function lookAt(
  ctx: Context,
  source: number,
  changed: readonly z.infer<typeof Changed>[],
): Promise<void> {
  const [ranks, names] = [await levelRanks(ctx.store), await itemNames(ctx.store)];
  try {
    const connector = await connectSource(ctx, await findSource(ctx.store, source));
    try {
      for (const { item_id: id, level, content_hash: surveyed } of changed) {
        const carried = await carriedBy(ctx, connector, id, surveyed);
        // It was written again meanwhile: the next survey will tell.
        if (carried === 'unknown') continue;
        const is = carried && (ranks.get(carried.id) ?? -1);
        const had = ranks.get(level) ?? -1;
        await ctx.store.transaction(async (tx) => {
          if (carried && is !== undefined && is >= had) {
            await tx.run(
              carried.id === level
                ? 'UPDATE item_level SET stamped_hash = ? WHERE item_id = ?'
                : 'UPDATE item_level SET stamped_hash = ?, level = ?, set_by = ?, set_at = ? WHERE item_id = ?',
              carried.id === level
                ? [surveyed, id]
                : [surveyed, carried.id, setByText({ is: 'document' }), toDatetime(ctx.now()), id],
            );
          } else {
            const says = carried
              ? `It says ${names.levels.get(carried.id) ?? carried.name} now`
              : 'It lost its marking';
            await tx.run('UPDATE item_level SET lost = 1, unstamped = ? WHERE item_id = ?', [
              `${says}; it is stamped anew when levels are set.`,
              id,
            ]);
          }
          await touchBlocks(tx, [id]);
        });
      }
    } finally {
      await connector.close();
    }
  } catch (error) {
    // Its next survey tells that it cannot be read.
    if (!(error instanceof SourceError)) throw error;
  }
}

async function carriedBy(
  ctx: Context,
  connector: Awaited<ReturnType<typeof connectSource>>,
  id: number,
  surveyed: Buffer,
): Promise<CarriedLevel | undefined | 'unknown'> {
  try {
    const { bytes, hash } = await fetchWhole(connector, await findItem(ctx.store, id));
    return hash.equals(surveyed) ? await readFileLevel(bytes) : 'unknown';
  } catch (error) {
    if (error instanceof UnstampableError) return undefined;
    if (error instanceof ItemError) return 'unknown';
    throw error;
  }
}

/** Tells on Today how many documents of a source lost their marking; in the transaction that changed that. */
export async function showLost(tx: Queries, ctx: Context, source: number): Promise<void> {
  const lost = await tx.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM item_level l JOIN item i ON i.id = l.item_id WHERE l.lost = 1 AND i.source_id = ?',
    [source],
  );
  if (!lost || lost.n === 0) return takeOffToday(tx, 'marking lost', String(source));
  const { name } = await findSource(tx, source);
  await putOnToday(tx, {
    kind: 'marking lost',
    key: String(source),
    action: 'protection.run',
    words: `${lost.n === 1 ? '1 document' : `${lost.n} documents`} in ${name} lost the marking`,
    detail: 'A copy was stripped of it, or somebody lowered it outside. Set levels, and it is stamped anew.',
    link: '/protection/runs?new=run',
    since: ctx.now(),
    within: [{ kind: 'source', id: String(source) }],
  });
}

/** Items of a source whose marking was lost, behind one of them, in order. */
export async function lostOf(store: Queries, source: string, after: number, most: number): Promise<number[]> {
  const rows = await store.all(
    z.object({ id: BigId.transform(Number) }),
    `SELECT l.item_id AS id FROM item_level l JOIN item i ON i.id = l.item_id
     WHERE l.lost = 1 AND i.source_id = ? AND l.item_id > ? AND i.state <> 'gone' ORDER BY l.item_id LIMIT ?`,
    [source, after, most],
  );
  return rows.map((r) => r.id);
}
