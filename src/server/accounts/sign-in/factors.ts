import { z } from 'zod';
import type { LetterTemplate } from '../../../core/outbox/letter.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record, type Actor } from '../../evidence/ledger.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { Count, Flag, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { FACTOR_ADDED, FACTOR_REMOVED } from '../letters.ts';

const Passkey = z
  .object({
    id: Count,
    name: z.string(),
    synced: Flag,
    made_at: Instant,
    used_at: Instant.nullable(),
  })
  .transform(({ made_at, used_at, ...rest }) => ({ ...rest, madeAt: made_at, usedAt: used_at }));

const Code = z
  .object({ made_at: Instant, used_at: Instant.nullable() })
  .transform(({ made_at, used_at }) => ({ madeAt: made_at, usedAt: used_at }));

export interface Factors {
  readonly passkeys: readonly z.infer<typeof Passkey>[];
  /** One-time codes, where they are set up. */
  readonly code: z.infer<typeof Code> | null;
  /** Recovery codes that were not used yet. */
  readonly recovery: number;
}

/** What an account has besides a password. */
export async function factorsOf(store: Queries, account: number): Promise<Factors> {
  const passkeys = await store.all(
    Passkey,
    'SELECT id, name, synced, made_at, used_at FROM passkey WHERE account_id = ? ORDER BY made_at, id',
    [account],
  );
  const code = await store.one(Code, 'SELECT made_at, used_at FROM one_time_code WHERE account_id = ?', [
    account,
  ]);
  const left = await store.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM recovery_code WHERE account_id = ? AND used_at IS NULL',
    [account],
  );
  return { passkeys, code: code ?? null, recovery: left?.n ?? 0 };
}

export function hasFactor({ passkeys, code }: Factors): boolean {
  return passkeys.length > 0 || code !== null;
}

/** Takes away one-time codes, or one passkey. Throws a RefusedError (404). */
export async function dropFactor(
  tx: Queries,
  account: number,
  what: 'code' | { readonly passkey: number },
): Promise<void> {
  const { changed } =
    what === 'code'
      ? await tx.run('DELETE FROM one_time_code WHERE account_id = ?', [account])
      : await tx.run('DELETE FROM passkey WHERE account_id = ? AND id = ?', [account, what.passkey]);
  if (changed === 0) throw notFound('second factor');
  // Recovery codes stand in for what is not there any more.
  if (!hasFactor(await factorsOf(tx, account)))
    await tx.run('DELETE FROM recovery_code WHERE account_id = ?', [account]);
}

/** Takes all of them away, for somebody who lost theirs; how many. Throws a RefusedError (409) where there is none. */
export async function dropFactors(
  tx: Queries,
  ctx: Context,
  by: Actor,
  account: { readonly id: number; readonly email: string; readonly name: string },
): Promise<number> {
  const taken = await forgetFactors(tx, ctx.now(), by, account.id);
  if (taken === 0) throw new RefusedError('There is no second factor to take away.', [], 409);
  await mailFactor(tx, ctx, account, FACTOR_REMOVED, 'taken');
  return taken;
}

/** The same without a word to whose they were; how many. */
export async function forgetFactors(tx: Queries, now: Date, by: Actor, account: number): Promise<number> {
  const { changed: passkeys } = await tx.run('DELETE FROM passkey WHERE account_id = ?', [account]);
  const { changed: codes } = await tx.run('DELETE FROM one_time_code WHERE account_id = ?', [account]);
  await tx.run('DELETE FROM recovery_code WHERE account_id = ?', [account]);
  if (passkeys + codes > 0)
    await record(tx, now, {
      ...{ actor: by, action: 'account.factors-taken', object: 'account', objectId: account },
      detail: { passkeys, codes },
    });
  return passkeys + codes;
}

/** Into the ledger, and by mail to whose it is: what was added to or taken from how they sign in. */
export async function tellFactor(
  tx: Queries,
  ctx: Context,
  by: Actor,
  account: { readonly id: number; readonly email: string; readonly name: string },
  action: 'account.factor-added' | 'account.factor-removed',
  detail: Readonly<Record<string, string | number>>,
): Promise<void> {
  await record(tx, ctx.now(), { actor: by, action, object: 'account', objectId: account.id, detail });
  const template = action === 'account.factor-added' ? FACTOR_ADDED : FACTOR_REMOVED;
  await mailFactor(tx, ctx, account, template, action);
}

async function mailFactor(
  tx: Queries,
  ctx: Context,
  account: { readonly id: number; readonly email: string; readonly name: string },
  template: LetterTemplate,
  what: string,
): Promise<void> {
  const now = ctx.now();
  await queueMail(tx, ctx, {
    key: `factor ${account.id} ${what} ${now.toISOString()}`,
    about: { object: 'account', id: account.id },
    to: account.email,
    template,
    values: {
      name: account.name,
      when: `${now.toISOString().slice(0, 16).replace('T', ' ')} UTC`,
      link: `${ctx.settings.WEB_ORIGIN}/account`,
    },
  });
}
