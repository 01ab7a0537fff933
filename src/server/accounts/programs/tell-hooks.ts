import { z } from 'zod';
import { may } from '../../../core/accounts/authority.ts';
import { cloudEvent, isAskedFor } from '../../../core/accounts/programs/event.ts';
import type { Context } from '../../context.ts';
import { sealedEntries } from '../../evidence/ledger.ts';
import { count } from '../../figures/count.ts';
import { queueBody } from '../../outbox/outbox.ts';
import { Count, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findAccount } from '../account.ts';
import { EVENT_TYPE, eventKey } from './event-hooks.ts';

/** Looked at in one transaction. */
const AT_ONCE = 1000;
/** A receiver that does not take what it is sent is sent no more than so much. */
const MOST_WAITING = 2000;

/** Puts what was sealed since into the outbox, for each webhook that asked for it; each entry once. Calls go out side by side: the receiver orders them by id. */
export async function tellHooks(ctx: Context): Promise<void> {
  const hooks = await ctx.store.all(
    z.object({ hook: Count }),
    'SELECT h.hook FROM event_hook h JOIN webhook w ON w.id = h.hook WHERE w.stopped_at IS NULL',
  );
  for (const { hook } of hooks) for (let more = true; more;) more = await tellSome(ctx, hook);
}

const Row = z.object({
  events: JsonColumn(z.array(z.string())),
  told_tree: Count,
  told_index: Count,
  made_by: Count.nullable(),
});

/** Whether there may be more. */
async function tellSome(ctx: Context, hook: number): Promise<boolean> {
  return ctx.store.transaction(async (tx) => {
    // Another worker that is at it goes on.
    const row = await tx.one(
      Row,
      'SELECT h.events, h.told_tree, h.told_index, w.made_by FROM event_hook h JOIN webhook w ON w.id = h.hook WHERE h.hook = ? AND w.stopped_at IS NULL FOR UPDATE SKIP LOCKED',
      [hook],
    );
    if (!row) return false;
    const paused = await whyPaused(tx, hook, row.made_by);
    await tx.run('UPDATE event_hook SET paused = ? WHERE hook = ? AND paused <> ?', [paused, hook, paused]);
    if (paused !== '') return false;
    const tree = row.told_tree + 1;
    const sealed = await sealedEntries(tx, tree, row.told_index, AT_ONCE);
    if (!sealed) return false;
    for (const entry of sealed.entries)
      if (isAskedFor(row.events, entry))
        await queueBody(
          tx,
          ctx,
          { key: eventKey(hook, entry.id), about: { object: 'webhook', id: hook }, hook },
          EVENT_TYPE,
          JSON.stringify(cloudEvent(entry, ctx.settings.WEB_ORIGIN)),
        );
    const looked = row.told_index + sealed.entries.length;
    const isThrough = looked >= sealed.size || sealed.entries.length === 0;
    await tx.run('UPDATE event_hook SET told_tree = ?, told_index = ? WHERE hook = ?', [
      ...(isThrough ? [tree, 0] : [row.told_tree, looked]),
      hook,
    ]);
    return true;
  });
}

/** Why a webhook is told nothing for now; empty where it is. What happens meanwhile it is told afterwards. */
async function whyPaused(tx: Queries, hook: number, madeBy: number | null): Promise<string> {
  const maker = madeBy === null ? undefined : await findAccount(tx, madeBy);
  if (!maker || maker.disabledAt !== null) return 'Whoever made it has no account any more.';
  if (!may(maker.account, 'ledger.read') || maker.account.scope !== undefined)
    return 'Whoever made it may not see the whole ledger any more.';
  const waiting = await count(
    tx,
    "SELECT COUNT(*) AS n FROM (SELECT 1 FROM outgoing_message WHERE channel = 'webhook' AND object = 'webhook' AND object_id = ? AND state IN ('waiting', 'sending') LIMIT ?) w",
    [String(hook), MOST_WAITING],
  );
  return waiting >= MOST_WAITING
    ? `${MOST_WAITING} calls wait for it already: it goes on when they are taken.`
    : '';
}
