import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { HoldTotals } from '../../../core/retention/rehearsal/rehearsal.ts';
import type { Context } from '../../context.ts';
import { readRule } from '../../rules/rule-store.ts';
import { Count } from '../../store/columns.ts';
import { Owners } from '../owners.ts';
import { askRetention, resolveHold, retentionWeighing } from '../weighing.ts';
import { HOLD } from './holds.ts';
import { holdNotices, type HoldNotice } from './tell-custodians.ts';

/** What a hold covers as its draft stands, what it keeps from going, and who was told. */
export interface HoldOutlook extends HoldTotals {
  /** Other holds in force that cover some of the same. */
  readonly overlaps: readonly { readonly id: string; readonly name: string; readonly covers: number }[];
  readonly notices: readonly HoldNotice[];
  /** By day, the earliest first. */
  readonly days: readonly { readonly day: string; readonly covers: number; readonly keeps: number }[];
}

export async function holdOutlook(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  id: string,
): Promise<HoldOutlook> {
  const [{ content }, weighing] = await Promise.all([
    readRule(ctx.store, HOLD, id),
    retentionWeighing(ctx, 'rehearsed'),
  ]);
  const draft = await resolveHold(id, content, weighing.names, new Owners(ctx));
  const others = weighing.holds.filter((h) => h.id !== id);
  const [alone, together, notices, days] = await Promise.all([
    askRetention(ctx, account, { ...weighing, holds: [draft] }, { what: 'totals' }),
    askRetention(ctx, account, { ...weighing, holds: [draft, ...others] }, { what: 'overlaps', id }),
    holdNotices(ctx.store, id),
    ctx.store.all(
      z.object({ day: z.string(), covers: Count, keeps: Count }),
      'SELECT day, covers, keeps FROM hold_day WHERE hold_id = ? ORDER BY day DESC LIMIT 90',
      [id],
    ),
  ]);
  return {
    ...(alone.holds[0] ?? { id, covers: 0, keeps: 0 }),
    overlaps: together.map((o) => ({
      ...o,
      name: others.find((h) => h.id === o.id)?.name ?? o.id,
    })),
    notices,
    days: days.toReversed(),
  };
}
