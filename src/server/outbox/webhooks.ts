import { randomBytes } from 'node:crypto';
import type { Account } from '../../core/accounts/authority.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { destination, destinationRules, isAllowedPrivate } from '../http/allowed-destination.ts';
import { sealText } from '../secret.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/**
 * Adds a place that is told of what happens. The secret is given out this once. Throws a RefusedError for an address that
 * is none, that is not encrypted, or that leads to a private address. `also` is done with it.
 */
export async function addWebhook(
  ctx: Context,
  account: Account,
  address: string,
  also: (tx: Queries, id: number) => Promise<void> = () => Promise.resolve(),
): Promise<{ id: number; secret: string }> {
  const refuse = (message: string) =>
    new RefusedError('This address will not do.', [{ field: 'url', message }]);
  if (!URL.canParse(address)) throw refuse('Give a whole address, such as https://house.example/hooks.');
  const url = new URL(address);
  if (url.username || url.password) throw refuse('Leave user and password out of it; calls are signed.');
  const port = Number(url.port) || (url.protocol === 'https:' ? 443 : 80);
  const rules = destinationRules(ctx.settings);
  const isOwn = isAllowedPrivate(url.hostname, port, rules);
  if (url.protocol !== 'https:' && !(url.protocol === 'http:' && isOwn))
    throw refuse('It has to begin with https://.');
  const to = await destination(url.hostname, port, rules);
  if ('refused' in to) throw refuse(`${to.refused}.`);
  const secret = randomBytes(32).toString('base64url');
  return ctx.store.transaction(async (tx) => {
    const { id } = await tx.run('INSERT INTO webhook (url, secret, made_by, made_at) VALUES (?, ?, ?, ?)', [
      url.href,
      sealText(ctx.settings.SECRET_KEY, secret),
      account.id,
      toDatetime(ctx.now()),
    ]);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'webhook.add',
      object: 'webhook',
      objectId: id,
      detail: { host: url.host },
    });
    await also(tx, id);
    return { id, secret };
  });
}

/** Nothing is sent there any more, what waits included. `also` is done with it. */
export async function stopWebhook(
  ctx: Context,
  account: Account,
  id: number,
  also: (tx: Queries) => Promise<void> = () => Promise.resolve(),
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE webhook SET stopped_at = ? WHERE id = ? AND stopped_at IS NULL',
      [toDatetime(ctx.now()), id],
    );
    if (changed === 0) throw notFound('webhook');
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'webhook.stop',
      object: 'webhook',
      objectId: id,
      detail: {},
    });
    await also(tx);
  });
}
