import type { Account } from '../../core/accounts/authority.ts';
import { Bitmap } from '../../core/lens/bitmap.ts';
import { lensFaults } from '../../core/lens/lens-faults.ts';
import { itemVocabulary } from '../../core/holdings/offers.ts';
import type { Context } from '../context.ts';
import { askLens, itemNames } from '../holdings/offers.ts';
import { readRetentionPolicy } from './policy.ts';

/** How many of some items have special data; all of them where nobody can tell, as what tells it is gone. */
export async function countSpecial(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  items: Bitmap,
): Promise<number> {
  if (items.size === 0) return 0;
  const [{ special: lens }, names] = await Promise.all([
    readRetentionPolicy(ctx.store),
    itemNames(ctx.store),
  ]);
  if (lensFaults(lens, itemVocabulary(names)).length > 0) return items.size;
  return askLens(ctx, {
    lens,
    today: ctx.now().toISOString().slice(0, 10),
    sources: account.scope?.['source'] ?? null,
    only: items.toBytes(),
    ask: { what: 'count' },
  });
}
