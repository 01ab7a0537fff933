import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { wilson, type Share } from '../../../core/interval.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { BigId, Bytes, Count, toDatetime } from '../../store/columns.ts';
import { likeText } from '../../store/like-text.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { touchBlocks } from './item-blocks.ts';

export const Judged = z.object({
  detector: z.string().max(64),
  holds: z.boolean(),
  reason: z.string().trim().max(400).default(''),
});

/** Whether matches of one item are right: these, by the hashes of their values, or all. */
export const ItemJudgement = Judged.extend({
  values: z.union([
    z.literal('all'),
    z
      .array(z.string().regex(/^[0-9a-f]{32}$/))
      .min(1)
      .max(200),
  ]),
});
export type ItemJudgement = z.infer<typeof ItemJudgement>;

/** Of all items at once, by how their masked values read: `*` stands for anything. */
export const PatternJudgement = Judged.extend({
  pattern: z
    .string()
    .trim()
    .min(1, 'Say how the masked values read.')
    .max(200)
    .refine((p) => p.replaceAll('*', '').trim() !== '', 'Say more than * alone.'),
});
export type PatternJudgement = z.infer<typeof PatternJudgement>;

const Target = z.object({ item_id: BigId.transform(Number), value_hash: Bytes, version: z.number() });
/** More at once would be no judging. */
const MOST = 20_000;

export async function judgeItem(
  ctx: Context,
  account: Account,
  item: number,
  { detector, holds, reason, values }: ItemJudgement,
): Promise<{ readonly judged: number }> {
  return ctx.store.transaction(async (tx) => {
    const where = new Where().and('m.item_id = ?', item).and('m.detector = ?', detector);
    if (values !== 'all')
      where.among(
        'm.value_hash',
        values.map((v) => Buffer.from(v, 'hex')),
      );
    const targets = await findTargets(tx, where);
    if (targets.length === 0)
      throw new RefusedError(
        'There is no such match any more.',
        [{ field: 'values', message: 'Look at the item again.' }],
        409,
      );
    return judge(tx, ctx, account, targets, { detector, holds, reason }, { object: 'item', id: item });
  });
}

export async function judgeByPattern(
  ctx: Context,
  account: Account,
  { detector, holds, reason, pattern }: PatternJudgement,
): Promise<{ readonly judged: number }> {
  return ctx.store.transaction(async (tx) => {
    const targets = await findTargets(tx, patternWhere(account, detector, pattern));
    if (targets.length === 0)
      throw new RefusedError('No match reads like this.', [
        { field: 'pattern', message: 'Masked values are compared, such as j•••@•••.example.' },
      ]);
    if (targets.length > MOST)
      throw new RefusedError(`More than ${MOST} matches read like this.`, [
        { field: 'pattern', message: 'Say it more closely.' },
      ]);
    return judge(
      tx,
      ctx,
      account,
      targets,
      { detector, holds, reason },
      { object: 'detector', id: detector },
    );
  });
}

/** How many matches a pattern would judge. */
export async function countByPattern(
  ctx: Context,
  account: Account,
  detector: string,
  pattern: string,
): Promise<number> {
  const where = patternWhere(account, detector, pattern);
  const row = await ctx.store.one(
    z.object({ n: Count }),
    `SELECT COUNT(DISTINCT m.item_id, m.value_hash) AS n FROM finding_match m JOIN item i ON i.id = m.item_id WHERE ${where.sql}`,
    where.params,
  );
  return row?.n ?? 0;
}

function patternWhere(account: Account, detector: string, pattern: string): Where {
  const like = pattern
    .split('*')
    .map((p) => likeText(p).slice(1, -1))
    .join('%');
  const where = new Where()
    .and('m.detector = ?', detector)
    .and('m.rehearsed = 0')
    .and('m.masked LIKE ?', like);
  return keepToScope(where, account, 'source', 'i.source_id');
}

function findTargets(tx: Queries, where: Where) {
  return tx.all(
    Target,
    `SELECT DISTINCT m.item_id, m.value_hash, f.version FROM finding_match m
     JOIN item i ON i.id = m.item_id
     JOIN finding f ON f.item_id = m.item_id AND f.detector = m.detector AND f.rehearsed = m.rehearsed
     WHERE ${where.sql} LIMIT ${MOST + 1}`,
    where.params,
  );
}

async function judge(
  tx: Queries,
  ctx: Context,
  account: Account,
  targets: readonly z.infer<typeof Target>[],
  { detector, holds, reason }: z.infer<typeof Judged>,
  about: { readonly object: string; readonly id: number | string },
): Promise<{ readonly judged: number }> {
  const now = ctx.now();
  for (let from = 0; from < targets.length; from += 500)
    await tx.run(
      `INSERT INTO judgement (item_id, detector, value_hash, holds, reason, version, judged_by, judged_at) VALUES ?
       ON DUPLICATE KEY UPDATE holds = VALUES(holds), reason = VALUES(reason), version = VALUES(version), judged_by = VALUES(judged_by), judged_at = VALUES(judged_at)`,
      [
        targets
          .slice(from, from + 500)
          .map((t) => [
            t.item_id,
            detector,
            t.value_hash,
            holds,
            reason,
            t.version,
            account.id,
            toDatetime(now),
          ]),
      ],
    );
  await touchBlocks(
    tx,
    targets.map((t) => t.item_id),
  );
  await record(tx, now, {
    actor: account.id,
    action: 'finding.judge',
    object: about.object,
    objectId: about.id,
    detail: { detector, holds, values: targets.length, ...(reason ? { reason } : {}) },
  });
  return { judged: targets.length };
}

/** How often people who looked said that a detector is right. */
export interface MeasuredPrecision {
  readonly right: number;
  readonly judged: number;
  /** 95%, Wilson. */
  readonly interval: Share | null;
}

export async function measuredPrecision(store: Queries, detector: string): Promise<MeasuredPrecision> {
  const row = await store.one(
    z.object({ right: Count, judged: Count }),
    'SELECT COALESCE(SUM(holds), 0) AS `right`, COUNT(*) AS judged FROM judgement WHERE detector = ?',
    [detector],
  );
  const { right, judged } = row ?? { right: 0, judged: 0 };
  return { right, judged, interval: wilson(right, judged) ?? null };
}
