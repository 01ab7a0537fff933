import { z } from 'zod';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import { Flag } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { change, same, type Json } from '../../../core/rules/change.ts';
import { isUsed, PurposeList } from '../../../core/websites/notice/purpose-list.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';

/** The organisation's purposes, in its order. */
export function listPurposes(store: Queries): Promise<Purpose[]> {
  return store.all(
    z.object({ code: z.string(), name: z.string(), essential: Flag, shares: Flag }),
    'SELECT code, name, essential, shares FROM purpose ORDER BY place',
  );
}

/**
 * Says the purposes anew: names, order, new ones, and none of those that nothing points at any more. `saw` is the list
 * that the editor saw. Throws a RefusedError (400, 409).
 */
export async function sayPurposes(
  ctx: Context,
  accountId: number,
  next: readonly Purpose[],
  saw: readonly Purpose[],
  uses: (tx: Queries) => Promise<Readonly<Record<string, Parameters<typeof isUsed>[0]>>>,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await tx.all(z.object({ code: z.string() }), 'SELECT code FROM purpose FOR UPDATE');
    const before = await listPurposes(tx);
    if (!same(before as unknown as Json, saw as unknown as Json))
      throw new RefusedError(
        'Someone else changed the purposes a moment ago. They are shown as they are now.',
        [],
        409,
      );
    const list = PurposeList.parse(next);
    const used = await uses(tx);
    const gone = before.filter((b) => !list.some((n) => n.code === b.code));
    const missed = gone.find((g) => isUsed(used[g.code] as Parameters<typeof isUsed>[0]));
    if (missed)
      throw new RefusedError(`${missed.name} is in use.`, [
        { field: 'purposes', message: 'Only a purpose that nothing points at can be taken out.' },
      ]);
    const other = list.find(
      (n) =>
        before.find((b) => b.code === n.code)?.essential !== n.essential &&
        (n.essential || before.some((b) => b.code === n.code)),
    );
    if (other)
      throw new RefusedError('What is essential stays so.', [
        {
          field: 'purposes',
          message: `${other.name} cannot become essential, nor stop being it: decide its trackers one by one.`,
        },
      ]);
    const difference = change(before as unknown as Json, list as unknown as Json);
    if (difference.length === 0) return;
    if (gone.length > 0) await tx.run('DELETE FROM purpose WHERE code IN (?)', [gone.map((g) => g.code)]);
    for (const [place, p] of list.entries())
      await tx.run(
        'INSERT INTO purpose (code, name, essential, shares, place) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE name = VALUES(name), shares = VALUES(shares), place = VALUES(place)',
        [p.code, p.name, p.essential, p.shares, place + 1],
      );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'purpose.say',
      object: 'purpose',
      objectId: 'all',
      detail: { change: difference as unknown as Json },
    });
  });
}
