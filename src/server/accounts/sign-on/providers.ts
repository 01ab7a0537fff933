import { z } from 'zod';
import { newProvider, ProviderContent, type NewProvider } from '../../../core/accounts/sign-on/provider.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import { sealText } from '../../secret.ts';
import { Count, Flag, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { settleGroupRoles } from './group-roles.ts';

const Row = z
  .object({
    id: Count,
    issuer: z.string(),
    content: JsonColumn(ProviderContent),
    has_secret: Flag,
    made_at: Instant,
    stopped_at: Instant.nullable(),
    people: Count,
    scim_made_at: Instant.nullable(),
    scim_ends_at: Instant.nullable(),
    scim_used_at: Instant.nullable(),
    kept: Count,
  })
  .transform(({ has_secret, made_at, stopped_at, scim_made_at, scim_ends_at, scim_used_at, ...rest }) => ({
    ...{ ...rest, hasSecret: has_secret, madeAt: made_at, stoppedAt: stopped_at },
    /** Its token to keep accounts with; `null` where it has none. */
    keeping:
      scim_made_at === null
        ? null
        : { since: scim_made_at, endsAt: scim_ends_at ?? scim_made_at, usedAt: scim_used_at },
  }));
export type Provider = z.infer<typeof Row>;

const SELECT = `SELECT p.id, p.issuer, p.content, p.client_secret <> '' AS has_secret, p.made_at, p.stopped_at,
    IF(p.scim_hash IS NULL, NULL, p.scim_made_at) AS scim_made_at, p.scim_ends_at, p.scim_used_at,
    (SELECT COUNT(*) FROM account_identity i WHERE i.provider_id = p.id) AS people,
    (SELECT COUNT(*) FROM kept_account k WHERE k.provider_id = p.id) AS kept
  FROM identity_provider p`;

export function listProviders(store: Queries): Promise<readonly Provider[]> {
  return store.all(Row, `${SELECT} ORDER BY p.stopped_at IS NOT NULL, p.name LIMIT 100`);
}

/** Throws a RefusedError (404). */
export async function findProvider(store: Queries, id: number): Promise<Provider> {
  const row = await store.one(Row, `${SELECT} WHERE p.id = ?`, [id]);
  if (!row) throw notFound('provider');
  return row;
}

/** Adds a provider, whose configuration was read before; its number. */
export async function addProvider(
  ctx: Context,
  by: number,
  { name, issuer, clientId, clientSecret }: NewProvider,
): Promise<number> {
  return refuseTakenName('provider', () =>
    ctx.store.transaction(async (tx) => {
      const { id } = await tx.run(
        'INSERT INTO identity_provider (name, issuer, client_secret, content, made_at) VALUES (?)',
        [
          [
            ...[name, issuer, clientSecret === '' ? '' : sealText(ctx.settings.SECRET_KEY, clientSecret)],
            ...[JSON.stringify(newProvider(name, clientId)), toDatetime(ctx.now())],
          ],
        ],
      );
      await record(tx, ctx.now(), {
        ...{ actor: by, action: 'provider.add', object: 'provider', objectId: id },
        detail: { name, issuer },
      });
      return id;
    }),
  );
}

/** Another client secret, as when the one before ran out. Throws a RefusedError (404). */
export async function setSecret(ctx: Context, by: number, id: number, secret: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await findProvider(tx, id);
    await tx.run('UPDATE identity_provider SET client_secret = ? WHERE id = ?', [
      secret === '' ? '' : sealText(ctx.settings.SECRET_KEY, secret),
      id,
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'provider.secret', object: 'provider', objectId: id, detail: {} },
    });
  });
}

/**
 * Lets nobody in by its word any more, or does again; what its groups gave goes with it and comes back. Throws a RefusedError
 * (404, 409).
 */
export async function stopProvider(ctx: Context, by: number, id: number, stopped: boolean): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { stoppedAt } = await findProvider(tx, id);
    if (stopped === (stoppedAt !== null))
      throw new RefusedError(stopped ? 'It is stopped already.' : 'It is in use.', [], 409);
    await tx.run('UPDATE identity_provider SET stopped_at = ? WHERE id = ?', [
      stopped ? toDatetime(ctx.now()) : null,
      id,
    ]);
    if (stopped) await tx.run('DELETE FROM session WHERE provider_id = ?', [id]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: stopped ? 'provider.stop' : 'provider.resume', object: 'provider' },
      ...{ objectId: id, detail: {} },
    });
    await settleGroupRoles(tx, ctx.now(), by);
  });
}
