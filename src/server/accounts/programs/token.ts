import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { may, type Account } from '../../../core/accounts/authority.ts';
import { asToken, type NewToken } from '../../../core/accounts/programs/token.ts';
import { permissionWords } from '../../../core/accounts/roles/permissions.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries, Store } from '../../store/pool.ts';
import { ACCOUNT_SQL, AccountRow } from '../account.ts';

const MOST_IN_FORCE = 50;
const DAY_MS = 86_400_000;
const USED_EVERY_MS = 60_000;
const hashOf = (token: string) => createHash('sha256').update(token).digest();

/**
 * Gives a program a token to act as an account, which is shown once and kept nowhere. Throws a RefusedError for what the
 * account may not do itself, and where it has too many.
 */
export async function addToken(
  tx: Queries,
  now: Date,
  account: Account,
  { name, actions, days }: NewToken,
): Promise<{ readonly id: number; readonly token: string }> {
  const beyond = actions.filter((a) => !may(account, a));
  if (beyond.length > 0)
    throw new RefusedError('A token cannot do more than you may.', [
      { field: 'actions', message: `Leave out: ${beyond.map(permissionWords).join(', ')}.` },
    ]);
  await tx.one(z.object({ id: Count }), 'SELECT id FROM account WHERE id = ? FOR UPDATE', [account.id]);
  const inForce = await tx.all(
    z.object({ id: Count }),
    'SELECT id FROM access_token WHERE account_id = ? AND ended_at IS NULL AND ends_at > ?',
    [account.id, toDatetime(now)],
  );
  if (inForce.length >= MOST_IN_FORCE)
    throw new RefusedError(`You have ${MOST_IN_FORCE} tokens in force. End one that is not used.`, [], 409);
  const token = `yt_${randomBytes(32).toString('base64url')}`;
  const { id } = await tx.run(
    'INSERT INTO access_token (account_id, name, token_hash, actions, made_at, ends_at) VALUES (?)',
    [
      [
        ...[account.id, name, hashOf(token), JSON.stringify([...new Set(actions)])],
        ...[toDatetime(now), toDatetime(new Date(now.getTime() + days * DAY_MS))],
      ],
    ],
  );
  await record(tx, now, {
    ...{ actor: account.id, action: 'token.add', object: 'token', objectId: id },
    detail: { actions: actions.length, days },
  });
  return { id, token };
}

/** It opens nothing any more. Throws a RefusedError (404) for one of somebody else, for whoever may not end programs. */
export async function endToken(tx: Queries, now: Date, by: Account, id: number): Promise<void> {
  const row = await tx.one(
    z.object({ account_id: Count, ended_at: Instant.nullable() }),
    'SELECT account_id, ended_at FROM access_token WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row || (row.account_id !== by.id && !may(by, 'programs.edit'))) throw notFound('token');
  if (row.ended_at !== null) throw new RefusedError('This token is ended already.', [], 409);
  await tx.run('UPDATE access_token SET ended_at = ? WHERE id = ?', [toDatetime(now), id]);
  await record(tx, now, {
    ...{ actor: by.id, action: 'token.end', object: 'token', objectId: id, detail: {} },
  });
}

const Listed = z
  .object({
    id: Count,
    account_id: Count,
    account: z.string(),
    name: z.string(),
    actions: JsonColumn(z.array(z.string())),
    made_at: Instant,
    ends_at: Instant,
    used_at: Instant.nullable(),
    ended_at: Instant.nullable(),
  })
  .transform(({ account_id, made_at, ends_at, used_at, ended_at, ...rest }) => ({
    ...{ ...rest, accountId: account_id },
    ...{ madeAt: made_at, endsAt: ends_at, usedAt: used_at, endedAt: ended_at },
  }));

/** Those of an account; everybody's for whoever sees programs. In force first. */
export function listTokens(store: Queries, account: Account) {
  const all = may(account, 'programs.read');
  return store.all(
    Listed,
    `SELECT t.id, t.account_id, a.name AS account, t.name, t.actions, t.made_at, t.ends_at, t.used_at, t.ended_at
     FROM access_token t JOIN account a ON a.id = t.account_id ${all ? '' : 'WHERE t.account_id = ?'}
     ORDER BY t.ended_at IS NOT NULL, t.name, t.id LIMIT 500`,
    all ? [] : [account.id],
  );
}

const Known = AccountRow.extend({
  token_id: Count,
  token_name: z.string(),
  actions: JsonColumn(z.array(z.string())),
  used_at: Instant.nullable(),
});

/**
 * Whoever a token acts as, with what it was given of that. Throws a RefusedError (401) for one that is not in force, or whose
 * account is disabled.
 */
export async function accountOfToken(
  store: Store,
  now: Date,
  authorization: string | null,
): Promise<Account> {
  const [, token] = /^Bearer (yt_[\w-]{43})$/.exec(authorization ?? '') ?? [];
  const row =
    token === undefined
      ? undefined
      : await store.one(
          Known,
          `SELECT ${ACCOUNT_SQL}, t.id AS token_id, t.name AS token_name, t.actions, t.used_at
           FROM access_token t JOIN account a ON a.id = t.account_id
           WHERE t.token_hash = ? AND t.ended_at IS NULL AND t.ends_at > ? AND a.disabled_at IS NULL`,
          [hashOf(token), toDatetime(now)],
        );
  if (!row) throw new RefusedError('Send a token that is in force: Authorization: Bearer yt_…', [], 401);
  const { token_id, token_name, actions, used_at, ...account } = row;
  if (used_at === null || now.getTime() - Date.parse(used_at) > USED_EVERY_MS)
    await store.run('UPDATE access_token SET used_at = ? WHERE id = ?', [toDatetime(now), token_id]);
  return asToken(account, { id: token_id, name: token_name, actions });
}
