import { group } from 'd3-array';
import { z } from 'zod';
import type { Bitmap } from '../../../core/lens/bitmap.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import type { Context } from '../../context.ts';
import type { ItemOwners } from '../../holdings/offers.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { staffLink } from '../../accounts/staff/staff-link.ts';
import { toDatetime } from '../../store/columns.ts';
import { PAST_TIME, TO_AGREE } from './disposal-letters.ts';

/** Writes to owners of what a rule says is past its time; to each once a month. */
export async function tellOwnersOfDue(
  ctx: Context,
  owners: ItemOwners,
  today: Day,
  { by, name }: { readonly by: string; readonly name: string },
  due: Bitmap,
): Promise<void> {
  const rows = [];
  for (let from = 0; ;) {
    const ids = due.first(1000, from);
    const last = ids.at(-1);
    if (last === undefined) break;
    from = last + 1;
    rows.push(
      ...(await ctx.store.all(
        z.object({ owner: z.string(), source_id: z.number() }),
        'SELECT owner, source_id FROM item WHERE id IN (?)',
        [ids],
      )),
    );
  }
  const staff = await owners.staffOf(rows);
  for (const [id, of] of group(rows, (_, i) => staff[i] ?? null)) {
    if (id === null) continue;
    const who = await ctx.store.one(
      z.object({ address: z.string(), name: z.string() }),
      'SELECT address, name FROM staff WHERE id = ?',
      [id],
    );
    if (!who) continue;
    await ctx.store.transaction((tx) =>
      queueMail(tx, ctx, {
        key: `past their time, ${by}, ${id}, ${today.slice(0, 7)}`,
        about: { object: 'retention rule', id: by },
        to: who.address,
        template: PAST_TIME,
        values: { name: who.name, count: of.length, rule: name },
      }),
    );
  }
}

/** Writes to owners who are asked and were not told yet; one letter for all that one is asked. */
export async function tellAskedOwners(ctx: Context): Promise<void> {
  const asked = await ctx.store.all(
    z.object({
      staff: z.number(),
      address: z.string(),
      name: z.string(),
      items: z.coerce.number(),
      last: z.coerce.string(),
    }),
    `SELECT s.id AS staff, s.address, s.name, SUM(d.items) AS items, MAX(d.id) AS last FROM disposal d JOIN staff s ON s.id = d.staff_id
     WHERE d.state = 'asked' AND d.told_at IS NULL GROUP BY s.id`,
  );
  for (const { staff, address, name, items, last } of asked)
    await ctx.store.transaction(async (tx) => {
      await queueMail(tx, ctx, {
        key: `disposals up to ${last}, ${staff}`,
        about: { object: 'disposal', id: last },
        to: address,
        template: TO_AGREE,
        values: { name, count: items, link: staffLink(ctx, 'letting-go', staff) },
      });
      await tx.run(
        "UPDATE disposal SET told_at = ? WHERE staff_id = ? AND state = 'asked' AND told_at IS NULL AND id <= ?",
        [toDatetime(ctx.now()), staff, last],
      );
    });
}
