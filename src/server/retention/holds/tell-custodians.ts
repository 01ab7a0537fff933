import { z } from 'zod';
import { versionInForce } from '../../../core/rules/rule.ts';
import type { HoldContent } from '../../../core/retention/holds/hold.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { listRules } from '../../rules/rule-store.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { holdLink } from './hold-link.ts';
import { HELD, HELD_AGAIN, RELEASED } from './hold-letters.ts';
import { HOLD } from './holds.ts';

const DAY = 86_400_000;

/** A custodian of a hold, and what they were told and said. */
const Notice = z.object({
  address: z.string(),
  told_at: Instant.nullable(),
  reminded_at: Instant.nullable(),
  times: z.number(),
  known_at: Instant.nullable(),
  released_at: Instant.nullable(),
});
export type HoldNotice = z.infer<typeof Notice>;

/** In the order in which they were told. */
export function holdNotices(store: Queries, hold: string): Promise<readonly HoldNotice[]> {
  return store.all(
    Notice,
    'SELECT address, told_at, reminded_at, times, known_at, released_at FROM hold_notice WHERE hold_id = ? ORDER BY told_at, address',
    [hold],
  );
}

/** Writes to the custodians of holds in force: at first, again as long as they do not answer, and once it is over. */
export async function tellCustodians(ctx: Context): Promise<void> {
  for (const hold of await rulesInForce(ctx.store, HOLD)) await tellOf(ctx, hold.id, hold);
  for (const { id, content, stage } of await listRules(ctx.store, HOLD, ['retired']))
    if (versionInForce(stage) === undefined) await tellReleased(ctx, id, content);
}

async function tellOf(ctx: Context, id: string, hold: HoldContent): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    for (const address of hold.custodians)
      await tx.run('INSERT IGNORE INTO hold_notice (hold_id, address) VALUES (?, ?)', [
        id,
        address.toLowerCase(),
      ]);
    const notices = await tx.all(
      Notice,
      'SELECT address, told_at, reminded_at, times, known_at, released_at FROM hold_notice WHERE hold_id = ? ORDER BY address FOR UPDATE',
      [id],
    );
    const asked = new Set(hold.custodians.map((a) => a.toLowerCase()));
    for (const n of notices) {
      if (!asked.has(n.address)) continue;
      // One that was released and is in force again is told anew.
      const isNew = n.told_at === null || n.released_at !== null;
      const last = n.reminded_at ?? n.told_at;
      const isLate =
        n.known_at === null && last !== null && Date.parse(last) + hold.remindDays * DAY <= now.getTime();
      if (!isNew && !isLate) continue;
      const times = isNew ? 1 : n.times + 1;
      await queueMail(tx, ctx, {
        key: `hold ${id}, ${n.address}, ${now.toISOString().slice(0, 10)}, ${isNew ? 'placed' : 'again'}`,
        about: { object: 'hold', id },
        to: n.address,
        template: isNew ? HELD : HELD_AGAIN,
        values: {
          hold: hold.name,
          matter: hold.matter,
          link: holdLink(ctx, id, n.address),
          times: n.times === 1 ? 'once' : `${n.times} times`,
        },
      });
      await tx.run(
        isNew
          ? 'UPDATE hold_notice SET told_at = ?, reminded_at = NULL, times = ?, known_at = NULL, released_at = NULL WHERE hold_id = ? AND address = ?'
          : 'UPDATE hold_notice SET reminded_at = ?, times = ? WHERE hold_id = ? AND address = ?',
        [toDatetime(now), times, id, n.address],
      );
    }
    await showUnknown(tx, id, hold, now);
  });
}

/** Those who were told again, and say nothing, are somebody's to ask. */
async function showUnknown(tx: Queries, id: string, hold: HoldContent, now: Date): Promise<void> {
  const late = (await holdNotices(tx, id)).filter(
    (n) => n.known_at === null && n.times > 1 && n.released_at === null,
  );
  const since = late.map((n) => n.told_at ?? '').sort()[0];
  await replaceOnToday(
    tx,
    `hold ${id}`,
    late.length === 0
      ? []
      : [
          {
            kind: 'hold not known',
            key: id,
            action: 'retention.hold',
            words: `${late.length === 1 ? '1 custodian' : `${late.length} custodians`} of “${hold.name}” did not say that they know of it`,
            detail: 'They were written to again; somebody may have to call.',
            link: `/retention/holds/${id}`,
            since: since === undefined || since === '' ? now : since,
          },
        ],
  );
}

async function tellReleased(ctx: Context, id: string, hold: HoldContent): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const open = await tx.all(
      z.object({ address: z.string() }),
      'SELECT address FROM hold_notice WHERE hold_id = ? AND told_at IS NOT NULL AND released_at IS NULL ORDER BY address FOR UPDATE',
      [id],
    );
    for (const { address } of open)
      await queueMail(tx, ctx, {
        key: `hold ${id}, ${address}, ${now.toISOString().slice(0, 10)}, released`,
        about: { object: 'hold', id },
        to: address,
        template: RELEASED,
        values: { hold: hold.name, matter: hold.matter },
      });
    if (open.length === 0) return;
    await tx.run(
      'UPDATE hold_notice SET released_at = ? WHERE hold_id = ? AND told_at IS NOT NULL AND released_at IS NULL',
      [toDatetime(now), id],
    );
    await replaceOnToday(tx, `hold ${id}`, []);
  });
}

/** Notes that a custodian knows of a hold; once. */
export async function knowHold(ctx: Context, hold: string, address: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const { changed } = await tx.run(
      'UPDATE hold_notice SET known_at = ? WHERE hold_id = ? AND address = ? AND known_at IS NULL',
      [toDatetime(now), hold, address],
    );
    if (changed === 0) return;
    await record(tx, now, {
      actor: 'system',
      action: 'hold.known',
      object: 'hold',
      objectId: hold,
      detail: { by: 'a custodian, by letter' },
    });
    const inForce = (await rulesInForce(tx, HOLD)).find((h) => h.id === hold);
    if (inForce) await showUnknown(tx, hold, inForce, now);
  });
}
