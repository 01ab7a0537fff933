import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { addWebhook, stopWebhook } from '../../outbox/webhooks.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import type { Queries } from '../../store/pool.ts';

export interface AlertHook {
  readonly id: number;
  readonly name: string;
  readonly url: string;
}

/** Webhooks that lookouts can call, by name. */
export function listHooks(store: Queries): Promise<readonly AlertHook[]> {
  return store.all(
    z.object({ id: z.number(), name: z.string(), url: z.string() }),
    'SELECT h.hook AS id, h.name, w.url FROM alert_hook h JOIN webhook w ON w.id = h.hook WHERE w.stopped_at IS NULL ORDER BY h.name',
  );
}

/** The secret that signs what is sent is given out this once. Throws what `addWebhook` does, and a RefusedError for a name that is taken. */
export function addHook(
  ctx: Context,
  account: Account,
  { name, url }: Pick<AlertHook, 'name' | 'url'>,
): Promise<{ id: number; secret: string }> {
  return refuseTakenName('webhook', () =>
    addWebhook(ctx, account, url, async (tx, id) => {
      await tx.run('INSERT INTO alert_hook (hook, name) VALUES (?, ?)', [id, name]);
    }),
  );
}

/** Nothing is sent there any more. Throws a RefusedError (404). */
export function stopHook(ctx: Context, account: Account, id: number): Promise<void> {
  return stopWebhook(ctx, account, id, async (tx) => {
    await tx.run('DELETE FROM alert_hook WHERE hook = ?', [id]);
  });
}
