import { outsideScope } from '../../core/accounts/scope.ts';
import { may } from '../../core/accounts/authority.ts';
import { findAccount } from '../accounts/account.ts';
import type { Context } from '../context.ts';
import { openLink } from '../evidence/boards/board-links.ts';
import { PerMinute } from '../http/per-minute.ts';
import { whole } from '../http/whole.ts';
import { showBoard, type ShownBoard } from './shown-board.ts';

const TRIES = new PerMinute(120, 'That is more than anybody reads in a minute. Wait a little.');

/**
 * A board by its address, of what whoever gave it out may see now; `undefined` where it is over, or where they may not
 * any more. Throws a RefusedError (429).
 */
export async function openSharedBoard(
  ctx: Context,
  token: string,
  address: string,
): Promise<{ readonly shown: ShownBoard; readonly endsAt: string } | undefined> {
  TRIES.count(address);
  const link = await openLink(ctx, token);
  if (!link) return undefined;
  const { account, disabledAt } = await findAccount(ctx.store, link.madeBy);
  if (disabledAt !== null || !may(account, 'boards.share')) return undefined;
  if (outsideScope(account, whole('figure')()) !== undefined) return undefined;
  return { shown: await showBoard(ctx, account, link.board), endsAt: link.endsAt };
}
