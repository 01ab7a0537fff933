import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { passwordComplaint } from '../../core/accounts/password.ts';
import { LETTER_LANGUAGES, type LetterLanguage } from '../../core/outbox/letter.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { queueMail } from '../outbox/outbox.ts';
import { PASSWORD_CHANGED } from './letters.ts';
import { record, type Actor } from '../evidence/ledger.ts';
import { Count, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { lockHolders, refuseNoOfficer } from './roles/stay-officer.ts';
import { findAccount, hashPassword, isPassword } from './account.ts';
import { endSessionsOf } from './session.ts';
import { beginAttempt } from './sign-in/sign-in-limit.ts';

/**
 * Gives oneself another password, and ends one's other sessions. Throws a RefusedError where the current one is wrong,
 * naming the field, or the new one will not do.
 */
export async function changePassword(
  ctx: Context,
  account: Account,
  input: {
    readonly current: string;
    readonly next: string;
    readonly session: string;
    readonly address: string;
  },
): Promise<{ ended: number }> {
  const found = await findAccount(ctx.store, account.id);
  const attempt = await beginAttempt(ctx, {
    accountId: account.id,
    email: account.email,
    address: input.address,
    device: Buffer.from(input.session, 'hex'),
  });
  if (!(await isPassword(found, input.current)))
    throw new RefusedError('This is not your password.', [
      { field: 'current', message: 'It is not this one. Type the one you sign in with now.' },
    ]);
  await attempt.succeeded();
  const complaint =
    input.next === input.current ? 'It is the one you have.' : passwordComplaint(input.next, account);
  if (complaint !== undefined)
    throw new RefusedError('This password will not do.', [{ field: 'next', message: complaint }]);
  const hash = await hashPassword(input.next);
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const ended = await setPassword(tx, now, account.id, account.id, hash, input.session);
    await queueMail(tx, ctx, {
      key: `password ${account.id} ${now.toISOString()}`,
      about: { object: 'account', id: account.id },
      to: account.email,
      template: PASSWORD_CHANGED,
      values: {
        name: account.name,
        when: `${now.toISOString().slice(0, 16).replace('T', ' ')} UTC`,
        link: `${ctx.settings.WEB_ORIGIN}/account`,
      },
    });
    return ended;
  });
}

/** Sets a password in the caller's transaction and ends all sessions but `keep`. */
export async function setPassword(
  tx: Queries,
  now: Date,
  actor: Actor,
  accountId: number,
  hash: string,
  keep?: string,
): Promise<{ ended: number }> {
  await tx.run('UPDATE account SET password_hash = ? WHERE id = ?', [hash, accountId]);
  const ended = await endSessionsOf(tx, accountId, keep);
  await record(tx, now, {
    actor,
    action: 'account.password',
    object: 'account',
    objectId: accountId,
    detail: { ended },
  });
  return { ended };
}

/** Disables an account, which ends its sessions, or enables it again. The last officer who may do so stays. */
export async function setDisabled(
  ctx: Context,
  by: Account,
  accountId: number,
  disabled: boolean,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await lockHolders(tx);
    if (disabled && accountId === by.id)
      throw new RefusedError('You cannot disable your own account.', [
        { field: 'disabled', message: 'Ask another officer.' },
      ]);
    const { disabledAt: mine } = await findAccount(tx, by.id);
    if (mine !== null) throw new RefusedError('Your own account was disabled a moment ago.', [], 403);
    await switchAccount(tx, ctx.now(), by.id, accountId, disabled);
  });
}

/** The same in the transaction of whoever locked those who hold roles. Throws a RefusedError (409) for the last officer. */
export async function switchAccount(
  tx: Queries,
  now: Date,
  actor: Actor,
  accountId: number,
  disabled: boolean,
  detail: Readonly<Record<string, string>> = {},
): Promise<void> {
  const { disabledAt } = await findAccount(tx, accountId, true);
  if (disabled === (disabledAt !== null)) return;
  await tx.run('UPDATE account SET disabled_at = ? WHERE id = ?', [
    disabled ? toDatetime(now) : null,
    accountId,
  ]);
  if (disabled) await refuseNoOfficer(tx, 'disabled');
  const ended = disabled ? await endSessionsOf(tx, accountId) : 0;
  await record(tx, now, {
    actor,
    action: disabled ? 'account.disable' : 'account.enable',
    object: 'account',
    objectId: accountId,
    detail: { ended, ...detail },
  });
}

/** Ends every session of somebody else; they can sign in again. */
export async function endAllSessions(
  ctx: Context,
  by: Account,
  accountId: number,
): Promise<{ ended: number }> {
  return ctx.store.transaction(async (tx) => {
    await findAccount(tx, accountId, true);
    const open = await tx.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM session WHERE account_id = ?',
      [accountId],
    );
    if (!open?.n) return { ended: 0 };
    const ended = await endSessionsOf(tx, accountId);
    await record(tx, ctx.now(), {
      actor: by.id,
      action: 'session.end-all',
      object: 'account',
      objectId: accountId,
      detail: { ended },
    });
    return { ended };
  });
}

/** In which language somebody gets letters. */
export async function letterLanguage(store: Queries, id: number): Promise<LetterLanguage> {
  const row = await store.one(
    z.object({ language: z.string() }),
    'SELECT language FROM account WHERE id = ?',
    [id],
  );
  return Object.keys(LETTER_LANGUAGES).find((l): l is LetterLanguage => l === row?.language) ?? 'en';
}

export async function chooseLanguage(
  ctx: Context,
  account: Account,
  language: LetterLanguage,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('UPDATE account SET language = ? WHERE id = ? AND language <> ?', [
      language,
      account.id,
      language,
    ]);
    if (changed === 0) return;
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'account.language',
      object: 'account',
      objectId: account.id,
      detail: { language },
    });
  });
}
