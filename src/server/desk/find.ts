import { may, type Account } from '../../core/accounts/authority.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import type { Found } from './found.ts';

/** Objects whose name holds `text`, a few of each kind, of those the account may see. */
export async function find(ctx: Context, account: Account, text: string): Promise<Found[]> {
  const finders = AREAS.flatMap((a) => a.finders ?? []).filter((f) => may(account, f.action));
  return (await Promise.all(finders.map((f) => f.find(ctx, text, account)))).flat();
}
