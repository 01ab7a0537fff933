import type { Exposure } from '../../core/access/breadth/breadth.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { exposuresOf } from './breadth/exposures.ts';
import { askAccess } from './index/ask-access.ts';
import type { FirmReach, HeldReach } from './index/held-answers.ts';

export type { HeldReach };

/** Who reaches what lies in places or items of Holdings: on a day, or now where nothing is known of that day. */
export async function reachOfHeld(
  ctx: Context,
  lies: readonly string[],
  on: string,
): Promise<{ readonly on: string | null; readonly reach: readonly HeldReach[] }> {
  if (lies.length === 0) return { on: null, reach: [] };
  const today = ctx.now().toISOString().slice(0, 10);
  if (on < today)
    try {
      return { on, reach: await askAccess(ctx, 'held', { lies }, on) };
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
    }
  return { on: null, reach: await askAccess(ctx, 'held', { lies }) };
}

/** What accounts of a firm get to, and what lies there. */
export interface FirmExposure extends Omit<FirmReach, 'regions'> {
  readonly lies: Exposure;
}

const NOTHING: Exposure = { items: 0, people: 0, sensitive: 0, data: [] };

/** What those reach whose mail is at one of some domains; `null` where no account of theirs is open. */
export async function reachOfFirm(ctx: Context, domains: readonly string[]): Promise<FirmExposure | null> {
  if (domains.length === 0) return null;
  const { regions, ...firm } = await askAccess(ctx, 'firm', { domains });
  if (firm.accountCount === 0) return null;
  const found = await exposuresOf(ctx, regions, true);
  return { ...firm, lies: found.find(([closed]) => closed === 0)?.[1] ?? NOTHING };
}
