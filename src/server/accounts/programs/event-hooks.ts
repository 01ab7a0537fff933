import { z } from 'zod';
import { may, type Account } from '../../../core/accounts/authority.ts';
import type { NewHook } from '../../../core/accounts/programs/event.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { lastTree } from '../../evidence/ledger.ts';
import { queueBody } from '../../outbox/outbox.ts';
import { addWebhook, stopWebhook } from '../../outbox/webhooks.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

export const EVENT_TYPE = 'application/cloudevents+json; charset=utf-8';

/** Of the message that tells a hook of an entry of the ledger. */
export function eventKey(hook: number, entry: string): string {
  return `event ${hook} ${entry}`;
}

/**
 * Tells a webhook of what happens from now on. The secret that signs it is given out this once. Throws what `addWebhook` does,
 * and a RefusedError (403) for whoever may not see the ledger.
 */
export async function addEventHook(
  ctx: Context,
  account: Account,
  { name, url, events }: NewHook,
): Promise<{ readonly id: number; readonly secret: string }> {
  if (!may(account, 'ledger.read'))
    throw new RefusedError('What happens stands in the ledger, which your roles do not include.', [], 403);
  return refuseTakenName('webhook', () =>
    addWebhook(ctx, account, url, async (tx, id) => {
      const tree = (await lastTree(tx))?.number ?? 0;
      await tx.run('INSERT INTO event_hook (hook, name, events, told_tree) VALUES (?, ?, ?, ?)', [
        ...[id, name, JSON.stringify([...new Set(events)]), tree],
      ]);
    }),
  );
}

/** Nothing is sent there any more; what was stays to be read. Throws a RefusedError (404). */
export async function stopEventHook(ctx: Context, account: Account, id: number): Promise<void> {
  await findEventHook(ctx.store, id);
  // Its name is free again.
  await stopWebhook(ctx, account, id, async (tx) => {
    await tx.run("UPDATE event_hook SET name = CONCAT(LEFT(name, 100), ' (', hook, ')') WHERE hook = ?", [
      id,
    ]);
  });
}

const Row = z
  .object({
    hook: Count,
    name: z.string(),
    url: z.string(),
    events: JsonColumn(z.array(z.string())),
    paused: z.string(),
    made_at: Instant,
    made_by: z.string().nullable(),
    stopped_at: Instant.nullable(),
  })
  .transform(({ hook, made_at, made_by, stopped_at, ...rest }) => ({
    ...{ id: hook, ...rest },
    ...{ madeAt: made_at, madeBy: made_by, stoppedAt: stopped_at },
  }));
export type EventHook = z.infer<typeof Row>;

const SELECT = `SELECT h.hook, h.name, w.url, h.events, h.paused, w.made_at, a.name AS made_by, w.stopped_at
  FROM event_hook h JOIN webhook w ON w.id = h.hook LEFT JOIN account a ON a.id = w.made_by`;

export function listEventHooks(store: Queries): Promise<readonly EventHook[]> {
  return store.all(Row, `${SELECT} ORDER BY w.stopped_at IS NOT NULL, h.name LIMIT 200`);
}

/** Throws a RefusedError (404). */
export async function findEventHook(store: Queries, id: number): Promise<EventHook> {
  const row = await store.one(Row, `${SELECT} WHERE h.hook = ?`, [id]);
  if (!row) throw notFound('webhook');
  return row;
}

const Call = z
  .object({
    id: Count,
    message_key: z.string(),
    state: z.string(),
    attempts: Count,
    error: z.string().nullable(),
    created_at: Instant,
    ended_at: Instant.nullable(),
    run_at: Instant,
  })
  .transform(({ message_key, created_at, ended_at, run_at, ...rest }) => ({
    ...rest,
    /** Of the ledger; `null` for a trial. */
    entry: /^event \d+ (\d+)$/.exec(message_key)?.[1] ?? null,
    ...{ queuedAt: created_at, endedAt: ended_at, nextAt: rest.state === 'waiting' ? run_at : null },
  }));
export type HookCall = z.infer<typeof Call>;

/** What was sent to a webhook and what waits, the newest first. */
export function callsOf(store: Queries, hook: number): Promise<readonly HookCall[]> {
  return store.all(
    Call,
    `SELECT id, message_key, state, attempts, error, created_at, ended_at, run_at FROM outgoing_message
     WHERE channel = 'webhook' AND message_key LIKE ? ORDER BY id DESC LIMIT 100`,
    [`event ${hook} %`],
  );
}

/** Sends a webhook something that did not happen, to see that it arrives. Throws a RefusedError (404, 409). */
export async function tryHook(ctx: Context, id: number): Promise<void> {
  const { stoppedAt } = await findEventHook(ctx.store, id);
  if (stoppedAt !== null) throw new RefusedError('This webhook is stopped.', [], 409);
  const now = ctx.now();
  const trial = {
    ...{ specversion: '1.0', id: `trial-${now.getTime()}`, source: ctx.settings.WEB_ORIGIN },
    ...{ type: 'webhook.trial', subject: `webhook/${id}`, time: now.toISOString(), data: {} },
  };
  await ctx.store.transaction((tx) =>
    queueBody(
      tx,
      ctx,
      {
        key: `event ${id} trial ${now.getTime()}`,
        about: { object: 'webhook', id },
        hook: id,
      },
      EVENT_TYPE,
      JSON.stringify(trial),
    ),
  );
}

/** Sends what did not arrive once more. Throws a RefusedError (404). */
export async function sendAgain(ctx: Context, hook: number, call: number): Promise<void> {
  const { changed } = await ctx.store.run(
    `UPDATE outgoing_message SET state = 'waiting', attempts = 0, run_at = ?, ended_at = NULL, error = NULL
     WHERE id = ? AND channel = 'webhook' AND message_key LIKE ? AND state IN ('failed', 'unclear')`,
    [toDatetime(ctx.now()), call, `event ${hook} %`],
  );
  if (changed === 0) throw notFound('call that failed');
}
