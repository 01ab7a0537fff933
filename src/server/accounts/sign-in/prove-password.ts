import type { Account } from '../../../core/accounts/authority.ts';
import { plainEmail } from '../../../core/accounts/email.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { findByEmail, isPassword } from '../account.ts';
import { knownDevice, type From } from '../session.ts';
import { beginAttempt } from './sign-in-limit.ts';

export interface Typed extends From {
  readonly email: string;
  readonly password: string;
}

/**
 * Whose e-mail and password these are. Throws a RefusedError (401) where they are wrong, without saying which, (429) when
 * there were too many failures, and (403) for an account that is disabled.
 */
export async function provePassword(ctx: Context, input: Typed): Promise<Account> {
  const found = await findByEmail(ctx.store, input.email);
  const known = found && (await knownDevice(ctx, found.account.id, input.device));
  const attempt = await beginAttempt(ctx, {
    accountId: found?.account.id,
    email: plainEmail(input.email),
    address: input.address,
    device: known,
  });
  if (!found || !(await isPassword(found, input.password))) {
    await tellRefused(ctx, found?.account.id, { device: known ? 'known' : 'unknown' });
    throw new RefusedError(
      'That e-mail and password do not go together.',
      [{ field: 'password', message: 'Check both, then try again.' }],
      401,
    );
  }
  await attempt.succeeded();
  refuseDisabled(found);
  return found.account;
}

/** Throws a RefusedError (403). */
export function refuseDisabled({ disabledAt }: { readonly disabledAt: string | null }): void {
  if (disabledAt !== null)
    throw new RefusedError(
      'This account is disabled.',
      [{ field: 'email', message: 'Ask your privacy officer to enable it again.' }],
      403,
    );
}

/** A stranger who guesses is on record, without what they typed. */
export async function tellRefused(
  ctx: Context,
  account: number | undefined,
  detail: Readonly<Record<string, string>>,
): Promise<void> {
  await ctx.store.transaction((tx) =>
    record(tx, ctx.now(), {
      ...{ actor: 'system', action: 'session.refuse', object: 'account', objectId: account ?? 'unknown' },
      detail,
    }),
  );
}
